import { ActionIcon, Button, Group } from '@mantine/core';
import { useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { KIND_TRAITS } from '../../core/media/shelf-kind';
import { formatBytes, formatCount } from '../../core/words/figures';
import type { ShelfView } from '../../server/stock/views/shelf';
import { api } from '../shared/api';
import { copyText } from '../shared/copy-text';
import { fullDate, shortDate } from '../shared/dates';
import { plural } from '../shared/figures';
import { IconDots, IconPause, IconPlay, IconStop } from '../shared/icons';
import { Menu } from '../shared/Menu';
import { tell, tellError } from '../shared/notices';
import { StateSign } from '../shared/StateSign';
import { EditShelf } from './EditShelf';
import { isGoing, useStocktake } from '../shared/use-stocktake';

interface Props {
  readonly shelf: ShelfView;
  readonly chosen: boolean;
  readonly onChoose: () => void;
  /** Whether it may be formatted is looked at. */
  readonly onCheck: () => void;
}

export function ShelfCard({ shelf, chosen, onChoose, onCheck }: Props) {
  const client = useQueryClient();
  const live = useStocktake(shelf);
  const running = live && isGoing(live) ? live : null;
  const [editing, edit] = useState(false);
  const act = (call: Promise<unknown>) => void call.then(() => client.invalidateQueries(), tellError);
  const about = [KIND_TRAITS[shelf.kind].word, shelf.record.owner, shelf.record.keptAt].filter((word) => word !== '').join(' · '); // prettier-ignore
  return (
    <div role="group" aria-label={shelf.name} className={chosen ? 'panel shelf-card chosen' : 'panel shelf-card'}>
      <div className="top">
        <StateSign state={shelf.attached ? 'present' : 'unplugged'} bare />
        {/* Reaches over the card; the other controls lie above it. */}
        <button type="button" className="choose" aria-pressed={chosen} onClick={onChoose} title={shelf.name}>
          {shelf.name}
        </button>
        <Menu position="bottom-end">
          <Menu.Target>
            <ActionIcon size={20} variant="subtle" color="gray" aria-label={`More for ${shelf.name}`}>
              <IconDots size={15} />
            </ActionIcon>
          </Menu.Target>
          <Menu.Dropdown>
            <Menu.Item
              disabled={!shelf.mountPath}
              onClick={() =>
                void copyText(shelf.mountPath!).then((done) =>
                  done ? tell('Copied', shelf.mountPath!) : tell('The browser does not allow it', `Mark the path and copy it: ${shelf.mountPath!}`),
                )
              }
            >
              Copy its path
            </Menu.Item>
            <Menu.Item onClick={() => edit(true)}>Edit</Menu.Item>
            <Menu.Item disabled={!shelf.attached} onClick={onCheck}>
              Check before formatting
            </Menu.Item>
            {shelf.bayDrive && (
              <Menu.Item onClick={() => act(api.post(`bay/${encodeURIComponent(shelf.bayDrive!)}`, { plugged: !shelf.attached }))}>
                {shelf.attached ? 'Unplug (simulated bay)' : 'Plug in (simulated bay)'}
              </Menu.Item>
            )}
            <Menu.Item color="red" onClick={() => act(api.remove(`shelves/${shelf.id}`))}>
              Take off the list (files and links stay)
            </Menu.Item>
          </Menu.Dropdown>
        </Menu>
      </div>
      {editing && <EditShelf shelf={shelf} onClose={() => edit(false)} />}
      <div className="soft clip" title={`${about}. ${KIND_TRAITS[shelf.kind].follows}`}>
        {about}
      </div>
      <Room shelf={shelf} />
      <div className="foot">
        {running ? (
          <>
            <span className="soft clip" title={running.current}>
              {running.state === 'paused' ? 'Paused: ' : ''}
              {running.files === 0 ? 'being listed' : `${formatCount(running.doneFiles)} of ${formatCount(running.files)} read`}
            </span>
            <Group gap={6} wrap="nowrap">
              <ActionIcon
                size={24}
                variant="default"
                aria-label={running.state === 'paused' ? 'Resume' : 'Pause'}
                title={running.state === 'paused' ? 'Resume the stocktake' : 'Pause the stocktake'}
                onClick={() => act(api.post(`runs/${running.runId}/${running.state === 'paused' ? 'resume' : 'pause'}`))}
              >
                {running.state === 'paused' ? <IconPlay size={13} /> : <IconPause size={13} />}
              </ActionIcon>
              <ActionIcon
                size={24}
                variant="default"
                aria-label="Stop"
                title="Stop the stocktake: what was read is kept"
                onClick={() => act(api.remove(`shelves/${shelf.id}/stocktake`))}
              >
                <IconStop size={12} />
              </ActionIcon>
            </Group>
          </>
        ) : (
          <>
            <span
              className="soft"
              title={
                shelf.isSilent
                  ? 'Its drive is looked at until it answers again'
                  : shelf.stocktakeAt
                    ? `Last stocktake ${fullDate(shelf.stocktakeAt)}`
                    : 'Nothing on it has been read yet'
              }
            >
              {shelf.isSilent
                ? 'Does not answer'
                : !shelf.attached && shelf.seenAt
                  ? `seen ${shortDate(shelf.seenAt)}`
                  : shelf.stocktakeAt
                    ? plural(shelf.items, 'item')
                    : 'Not read yet'}
            </span>
            {shelf.attached ? (
              <Button size="compact-xs" variant="default" onClick={() => act(api.post(`shelves/${shelf.id}/stocktake`))}>
                Look for changes
              </Button>
            ) : (
              shelf.bayDrive && (
                <Button
                  size="compact-xs"
                  variant="default"
                  onClick={() => act(api.post(`bay/${encodeURIComponent(shelf.bayDrive!)}`, { plugged: true }))}
                >
                  Plug in
                </Button>
              )
            )}
          </>
        )}
      </div>
    </div>
  );
}

function Room({ shelf: { capacityBytes, freeBytes } }: { shelf: ShelfView }) {
  if (capacityBytes === null || freeBytes === null) return <div className="soft">Free space unknown: the file system does not tell it</div>;
  const used = capacityBytes - freeBytes;
  return (
    <>
      <div className="gauge" role="img" aria-label={`${formatBytes(used)} of ${formatBytes(capacityBytes)} used`}>
        <i style={{ width: `${(100 * used) / Math.max(1, capacityBytes)}%` }} />
      </div>
      <div className="soft">
        {formatBytes(freeBytes)} free of {formatBytes(capacityBytes)}
      </div>
    </>
  );
}
