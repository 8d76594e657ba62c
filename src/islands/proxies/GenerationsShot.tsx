import { Button } from '@mantine/core';
import { useState } from 'react';
import type { Generation, GenerationCell, GenerationRow } from '../../core/planning/generations/generations';
import { formatBytes } from '../../core/words/figures';
import { IconPlay } from '../shared/icons';
import { PlayDialog } from '../shared/player/PlayDialog';
import { Poster } from '../shared/Poster';
import { StateSign } from '../shared/StateSign';

interface Look {
  readonly key: string;
  readonly label: string;
  readonly cell: Omit<GenerationCell, 'key'>;
  readonly isRead: boolean;
}

/** One clip in all its generations side by side: the same frame of each, and played beside each other. */
export function GenerationsShot({ row, generations }: { row: GenerationRow; generations: readonly Generation[] }) {
  const [playing, setPlaying] = useState<string | null>(null);
  const nameOf = (key: string) => generations.find((own) => own.key === key)?.name ?? '';
  const looks: Look[] = [
    ...(row.source ? [{ key: 'source', label: 'Source', cell: row.source, isRead: false }] : []),
    ...row.cells.map((cell) => ({ key: cell.key, label: nameOf(cell.key), cell, isRead: row.readsNow === cell.key })),
  ];
  const items = looks.flatMap(({ label, cell }) => (cell.state === 'present' && cell.itemId !== null ? [{ itemId: cell.itemId, label }] : []));
  return (
    <section className="panel generations-shot" aria-label={`Generations of ${row.name}`}>
      <div className="looks">
        {looks.map(({ key, label, cell, isRead }) => (
          <figure key={key} className={isRead ? 'is-read' : undefined}>
            {cell.state === 'present' && cell.itemId !== null ? (
              <Poster itemId={cell.itemId} frame={cell.frame} />
            ) : (
              <div className="poster soft centred">
                <StateSign state={cell.state} />
              </div>
            )}
            <figcaption className="soft" title={cell.place?.path}>
              <b title={label}>{label.split(' / ').at(-1)}</b>
              <span>
                {cell.height > 0 && `${cell.height} · `}
                {formatBytes(cell.bytes)}
                {isRead && ' · read'}
              </span>
            </figcaption>
          </figure>
        ))}
      </div>
      <Button
        size="xs"
        variant="default"
        leftSection={<IconPlay size={13} />}
        disabled={items.length === 0}
        title={items.length === 0 ? 'None of them stands there now' : undefined}
        onClick={() => setPlaying(items.at(-1)!.itemId)}
      >
        {items.length > 1 ? 'Play side by side' : 'Play'}
      </Button>
      {playing !== null && <PlayDialog title={row.name} items={items} first={playing} onClose={() => setPlaying(null)} />}
    </section>
  );
}
