import { Button, MultiSelect } from '@mantine/core';
import { useQueryClient } from '@tanstack/react-query';
import { useRef } from 'react';
import type { ProxyDetail } from '../../core/planning/proxies/proxies';
import type { ProxySettings } from '../../core/planning/proxies/settings';
import { LINK_STATES } from '../../core/project/clip';
import { sameOrder } from '../../core/rendition/read-order';
import { api } from '../shared/api';
import { plural } from '../shared/figures';
import { tellError } from '../shared/notices';
import { useShelves, useTimelines } from '../shared/questions';
import { StateSign } from '../shared/StateSign';

interface Props {
  readonly projectId: string;
  readonly settings: ProxySettings;
  readonly onChange: (change: Partial<ProxySettings>) => void;
  readonly detail: Pick<ProxyDetail, 'states' | 'timelines' | 'order'> | null;
}

/** What would be read if these shelves stayed at home, in the order that is tried out: nothing is unplugged or changed yet. */
export function WhatIf({ projectId, settings: { leave, order }, onChange, detail }: Props) {
  const { data: shelves = [] } = useShelves();
  const client = useQueryClient();
  const triesOrder = order !== null && !(detail && sameOrder(order, detail.order));
  const tries = leave.length > 0 || triesOrder;
  const then = detail && LINK_STATES.filter((state) => detail.states.without[state] > 0 || detail.states.now[state] > 0);
  const tried = useRef(order);
  tried.current = order;
  const keep = () =>
    void api
      .patch(`projects/${projectId}`, order ? { readOrder: order } : {})
      .then(() => {
        // Plans that were made before with no order tried out hold the old one: they are not shown again, not for a moment.
        client.removeQueries({ queryKey: ['plan'], type: 'inactive' });
        return client.invalidateQueries();
      })
      // What is tried out by now stays.
      .then(() => order && tried.current && sameOrder(tried.current, order) && onChange({ order: null }))
      .catch(tellError);
  return (
    <>
      <MultiSelect
        size="xs"
        className="left-shelves"
        aria-label="Shelves left behind"
        placeholder={leave.length === 0 ? 'If I leave shelves behind …' : undefined}
        data={shelves.filter(({ attached }) => attached).map(({ id, name }) => ({ value: id, label: name }))}
        value={leave.filter((id) => shelves.some((shelf) => shelf.id === id))}
        onChange={(next) => onChange({ leave: next })}
        hidePickedOptions
        classNames={{ pillsList: 'one-line' }}
      />
      {tries && then && (
        <div className="tried">
          <span className="then of-plan" role="status">
            {then.map((state) => (
              <span key={state} className="sign-count">
                <StateSign state={state} />{' '}
                {detail.states.now[state] !== detail.states.without[state] && <span className="soft">{detail.states.now[state]} →</span>}{' '}
                <b>{detail.states.without[state]}</b>
              </span>
            ))}
            <OfTimelines projectId={projectId} timelines={detail.timelines} />
          </span>
          {triesOrder && detail && (
            <>
              <Button size="xs" onClick={keep}>
                Read in this order
              </Button>
              <Button size="xs" variant="default" onClick={() => onChange({ order: null })}>
                As before
              </Button>
            </>
          )}
        </div>
      )}
    </>
  );
}

/** Timelines that would show other gaps than now, those that lose most first. */
function OfTimelines({ projectId, timelines }: { projectId: string; timelines: ProxyDetail['timelines'] }) {
  const { data = [] } = useTimelines(projectId);
  const names = new Map(data.map(({ id, name }) => [id, name]));
  const words = [...timelines]
    .sort((a, b) => b.then - b.now - (a.then - a.now))
    .map(({ timelineId, now, then }) => `${names.get(timelineId) ?? 'a timeline'}: ${now} → ${plural(then, 'event')} offline`);
  const [first] = words;
  if (first === undefined) return null;
  return (
    <span className="soft" title={words.join('\n')}>
      {first}
      {words.length > 1 && ` and ${words.length - 1} more`}
    </span>
  );
}
