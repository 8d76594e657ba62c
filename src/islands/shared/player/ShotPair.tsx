import { Button, SegmentedControl } from '@mantine/core';
import { useState } from 'react';
import type { FrameRange } from '../../../core/time/range';
import { plural } from '../figures';
import { IconPlay } from '../icons';
import { Poster } from '../Poster';
import { PlayDialog } from './PlayDialog';
import './player.css';

/** What an event reads: item frames, half-open. */
export interface Look {
  readonly itemId: string;
  readonly name: string;
  readonly range: FrameRange;
}

/** To the row before, or the next one; null where there is none. */
export type RowSteps = Readonly<Record<'back' | 'on', (() => void) | null>>;

/** Steps through rows by their keys. */
export function rowSteps(keys: readonly string[], selected: string | null, select: (key: string) => void): RowSteps {
  const at = selected === null ? -1 : keys.indexOf(selected);
  const to = (index: number) => (at >= 0 && index >= 0 && index < keys.length ? () => select(keys[index]!) : null);
  return { back: to(at - 1), on: to(at + 1) };
}

interface Props {
  readonly title: string;
  readonly before: Look | null;
  readonly after: Look | null;
  readonly words: readonly [before: string, after: string];
  readonly step: RowSteps;
}

/** One shot before and after: the same frame of both, side by side, and both played on one position. */
export function ShotPair({ title, before, after, words, step }: Props) {
  const [end, setEnd] = useState<'first' | 'last'>('first');
  const [playing, setPlaying] = useState(false);
  const looks = [before, after] as const;
  const items = looks.flatMap((look, index) => (look ? [{ itemId: look.itemId, label: words[index]!, range: look.range }] : []));
  // One that reads what it read before is one thing to look at.
  const own = items.filter(({ itemId }, index) => items.findIndex((other) => other.itemId === itemId) === index);
  const frames = after?.range ?? before?.range;
  // What is stepped through goes on where nothing is to be seen.
  if (own.length === 0 && !playing) return null;
  return (
    <div className="shot-pair">
      <div className="looks">
        {looks.map((look, index) => (
          <figure key={words[index]}>
            {look ? (
              <Poster itemId={look.itemId} frame={end === 'first' ? look.range.start : look.range.end - 1} />
            ) : (
              <div className="poster soft centred">–</div>
            )}
            <figcaption className="soft" title={look?.name}>
              <b>{words[index]}</b> {look ? look.name : 'nothing'}
            </figcaption>
          </figure>
        ))}
      </div>
      <div className="controls">
        <SegmentedControl
          size="xs"
          aria-label="Which frame of the shot"
          data={[
            { value: 'first', label: 'first frame' },
            { value: 'last', label: 'last frame' },
          ]}
          value={end}
          onChange={(value) => setEnd(value as typeof end)}
        />
        <Button size="xs" variant="default" leftSection={<IconPlay size={13} />} onClick={() => setPlaying(true)}>
          {own.length > 1 ? 'Play both' : 'Play'}
        </Button>
        {frames && <span className="soft">{plural(frames.end - frames.start, 'frame')}</span>}
      </div>
      {playing && <PlayDialog title={title} items={own} first={own.at(-1)?.itemId ?? ''} step={step} onClose={() => setPlaying(false)} />}
    </div>
  );
}
