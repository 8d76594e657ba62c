import { MultiSelect } from '@mantine/core';
import type { ProxyDetail } from '../../core/planning/proxies/proxies';
import type { ProxySettings } from '../../core/planning/proxies/settings';
import { LINK_STATES } from '../../core/project/clip';
import { useShelves } from '../shared/questions';
import { StateSign } from '../shared/StateSign';

interface Props {
  readonly settings: ProxySettings;
  readonly onChange: (change: Partial<ProxySettings>) => void;
  readonly states: ProxyDetail['states'] | null;
}

/** What would still be read if these shelves stayed at home: simulated, nothing is unplugged. */
export function LeaveBehind({ settings: { leave }, onChange, states }: Props) {
  const { data: shelves = [] } = useShelves();
  const then = states && LINK_STATES.filter((state) => states.without[state] > 0 || states.now[state] > 0);
  return (
    <div className="controls scope leave-behind">
      <MultiSelect
        size="xs"
        className="take-timelines"
        aria-label="Shelves left behind"
        placeholder={leave.length === 0 ? 'If I leave shelves behind …' : undefined}
        data={shelves.filter(({ attached }) => attached).map(({ id, name }) => ({ value: id, label: name }))}
        value={leave.filter((id) => shelves.some((shelf) => shelf.id === id))}
        onChange={(next) => onChange({ leave: next })}
        hidePickedOptions
        classNames={{ pillsList: 'one-line' }}
      />
      {leave.length > 0 && then && (
        <span className="then" role="status">
          {then.map((state) => (
            <span key={state} className="sign-count">
              <StateSign state={state} /> {states.now[state] !== states.without[state] && <span className="soft">{states.now[state]} →</span>}{' '}
              <b>{states.without[state]}</b>
            </span>
          ))}
        </span>
      )}
    </div>
  );
}
