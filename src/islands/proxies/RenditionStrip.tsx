import { ActionIcon } from '@mantine/core';
import { useState } from 'react';
import type { ProxyRow } from '../../core/planning/proxies/proxies';
import { RENDITION_KINDS } from '../../core/rendition/read-order';
import { Bytes, plural } from '../shared/figures';
import { dayOf } from '../shared/dates';
import { IconPlay } from '../shared/icons';
import { PathText } from '../shared/PathText';
import { PlayDialog } from '../shared/player/PlayDialog';
import { StateSign } from '../shared/StateSign';
import { marksOf } from './proxy-columns';

/** The files of a clip's renditions, ready to be copied, with who made them and what does not fit. */
export function RenditionStrip({ row, shelfName }: { row: ProxyRow; shelfName: (id: string) => string }) {
  const [playing, setPlaying] = useState<string | null>(null);
  const items = RENDITION_KINDS.flatMap((kind) => {
    const cell = row.cells[kind];
    return cell?.state === 'present' && cell.itemId !== null
      ? [{ itemId: cell.itemId, label: `${kind}${cell.preset ? `, ${cell.preset}` : ''}` }]
      : [];
  });
  return (
    <section className="panel rendition-strip" aria-label={`Renditions of ${row.name}`}>
      {RENDITION_KINDS.map((kind) => {
        const cell = row.cells[kind];
        if (!cell) return null;
        const words = [cell.preset ?? '', cell.madeAt && kind !== 'source' ? `made ${dayOf(cell.madeAt)}` : '', ...marksOf(cell), cell.more > 0 ? `${plural(cell.more, 'older one')}` : '']; // prettier-ignore
        return (
          <div key={kind} className="line">
            <span className="kind">{kind}</span>
            <StateSign state={cell.state} />
            {cell.place ? <PathText path={cell.place.path} shelf={shelfName(cell.place.shelfId)} /> : <span className="soft">no file is known</span>}
            <span className="soft">{words.filter((word) => word !== '').join(' · ')}</span>
            <Bytes value={cell.bytes} />
            {cell.state === 'present' && cell.itemId !== null ? (
              <ActionIcon
                size={24}
                variant="subtle"
                color="gray"
                aria-label={`Play the ${kind}`}
                title="Play"
                onClick={() => setPlaying(cell.itemId)}
              >
                <IconPlay size={13} />
              </ActionIcon>
            ) : (
              <span />
            )}
          </div>
        );
      })}
      {playing !== null && <PlayDialog title={row.name} items={items} first={playing} onClose={() => setPlaying(null)} />}
    </section>
  );
}
