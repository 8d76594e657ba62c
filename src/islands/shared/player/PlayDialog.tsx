import { ActionIcon, Button, SegmentedControl, Select, Slider } from '@mantine/core';
import { useQuery } from '@tanstack/react-query';
import { useEffect, useMemo, useRef, useState, type KeyboardEvent, type RefObject } from 'react';
import { fileName, type Item } from '../../../core/media/item';
import type { FrameRange } from '../../../core/time/range';
import { mediaTypeOf, PREVIEW_SECONDS } from '../../../core/media/playable';
import { frameToTimecode } from '../../../core/time/timecode';
import { api } from '../api';
import { Dialog } from '../Dialog';
import { ErrorNote } from '../ErrorNote';
import { Waiting } from '../Face';
import { IconLeft, IconPause, IconPlay, IconRight } from '../icons';
import { offsetBetween, reelOf, useLocked, type Locked, type Reel } from './use-locked';
import './player.css';

export interface Playable {
  readonly itemId: string;
  /** What it is of its clip: "source", "proxy". */
  readonly label: string;
  /** Part of it that an event reads, in its frames, half-open. */
  readonly range?: FrameRange;
}

interface Props {
  readonly title: string;
  readonly items: readonly Playable[];
  /** The one that is looked at first. */
  readonly first: string;
  readonly onClose: () => void;
  /** To the next of several that are looked at one after another, or back; null where there is none. */
  readonly step?: Readonly<Record<'back' | 'on', (() => void) | null>>;
}

type Way = 'beside' | 'over' | 'alone';

const useItem = (itemId: string | null) =>
  useQuery({ queryKey: ['item', itemId], queryFn: () => api.get(`items/${itemId}`), enabled: itemId !== null && itemId !== '' });

/** Plays an item, alone or beside another of the same clip: both on one timecode, one over the other where they differ. */
export function PlayDialog(props: Props) {
  const { title, items, first, onClose, step } = props;
  const [isWide, setWide] = useState(items.some(({ itemId }) => itemId !== first));
  return (
    <Dialog opened onClose={onClose} title={`Look at ${title}`} size={isWide || step ? 1080 : 760} closeButtonProps={{ 'aria-label': 'Close' }}>
      {/* What is stepped through begins anew; the dialog stays as it stands. */}
      <Player key={items.map(({ itemId, range }) => `${itemId} ${range?.start ?? ''}`).join()} {...props} onWide={setWide} />
    </Dialog>
  );
}

function Player({ items, first, step, onWide }: Props & { readonly onWide: (isWide: boolean) => void }) {
  const [own, setOwn] = useState(first);
  const [other, setOther] = useState<string | null>(() => items.find(({ itemId }) => itemId !== first)?.itemId ?? null);
  const [way, setWay] = useState<Way>(other === null ? 'alone' : 'beside');
  useEffect(() => onWide(way === 'beside'), [way]);
  const [left, right] = [useRef<HTMLVideoElement>(null), useRef<HTMLVideoElement>(null)];
  const shown = useItem(own);
  const beside = useItem(way === 'alone' ? null : other);
  const reel = useMemo(() => shown.data && reelFor(shown.data), [shown.data]);
  const otherReel = useMemo(() => beside.data && reelFor(beside.data), [beside.data]);
  const rangeOf = (id: string | null) => items.find(({ itemId }) => itemId === id)?.range ?? null;
  const [part, otherPart] = [rangeOf(own), rangeOf(other)];
  const apart = part && otherPart ? otherPart.start - part.start : null;
  const offset = reel && otherReel && way !== 'alone' ? (apart ?? offsetBetween(reel, otherReel)) : null;
  const locked = useLocked(left, right, reel ?? null, offset, part?.start ?? 0);
  const [ready, setReady] = useState<ReadonlySet<string>>(new Set());
  const box = useRef<HTMLDivElement>(null);
  useEffect(() => box.current?.focus(), []);
  const data = items.map(({ itemId, label }) => ({ value: itemId, label }));
  const choose = (change: () => void) => {
    setReady(new Set());
    locked.go(part?.start ?? 0);
    change();
  };
  const onKeyDown = (event: KeyboardEvent) => {
    if ((event.target as HTMLElement).closest('input, [role=slider], button') && event.key !== ',' && event.key !== '.') return;
    const keys: Record<string, () => void> = {
      ' ': locked.toggle,
      ArrowLeft: () => locked.go(locked.frame - (event.shiftKey ? 10 : 1)),
      ArrowRight: () => locked.go(locked.frame + (event.shiftKey ? 10 : 1)),
      Home: () => locked.go(0),
      End: () => locked.go((reel?.frames ?? 1) - 1),
      ...(part ? { '[': () => locked.go(part.start), ']': () => locked.go(part.end - 1) } : {}),
      ...(step ? { PageUp: () => step.back?.(), PageDown: () => step.on?.() } : {}),
    };
    const act = keys[event.key];
    if (!act) return;
    event.preventDefault();
    act();
  };
  const error = shown.error ?? beside.error;
  const pane = (item: Item | undefined, player: RefObject<HTMLVideoElement | null>, isFirst: boolean) =>
    item && (
      <Pane
        key={`${item.id} ${isFirst}`}
        item={item}
        player={player}
        label={items.find(({ itemId }) => itemId === item.id)?.label ?? ''}
        isReady={ready.has(item.id)}
        // Of two the first is heard.
        isMuted={!isFirst}
        onReady={() => {
          setReady((old) => new Set([...old, item.id]));
          locked.go(locked.frame);
        }}
      />
    );
  return (
    <div ref={box} tabIndex={-1} className="player" onKeyDown={onKeyDown} data-autofocus="">
      {/* Pressed again and again: they stand where they are, whatever is looked at. */}
      {step && (
        <div className="controls">
          {(['back', 'on'] as const).map((way) => (
            <Button key={way} size="xs" variant="default" disabled={step[way] === null} onClick={() => step[way]?.()}>
              {way === 'back' ? 'The one before (page up)' : 'The next one (page down)'}
            </Button>
          ))}
        </div>
      )}
      {items.length > 1 && (
        <div className="controls">
          <Select
            size="xs"
            w={190}
            aria-label="What is looked at"
            data={data}
            value={own}
            allowDeselect={false}
            onChange={(id) => id && choose(() => (id === other && setOther(own), setOwn(id)))}
          />
          <SegmentedControl
            size="xs"
            aria-label="How it is looked at"
            data={[
              { value: 'alone', label: 'alone' },
              { value: 'beside', label: 'beside' },
              { value: 'over', label: 'difference to' },
            ]}
            value={way}
            onChange={(next) => setWay(next as Way)}
          />
          {way !== 'alone' && (
            <Select
              size="xs"
              w={190}
              aria-label="What it is held against"
              data={data.filter(({ value }) => value !== own)}
              value={other}
              allowDeselect={false}
              onChange={(id) => id && choose(() => setOther(id))}
            />
          )}
        </div>
      )}
      {error && <ErrorNote error={error} />}
      {items.length === 0 ? (
        <div className="poster soft centred">Nothing of it is there to be looked at.</div>
      ) : (
        !shown.data && !error && <Waiting lines={6} label="What is played is being read" />
      )}
      <div className={`panes ${way}`}>
        {pane(shown.data, left, true)}
        {way !== 'alone' && pane(beside.data, right, false)}
      </div>
      {way !== 'alone' && reel && otherReel && offset === null && (
        <p className="note warns tight">
          Their frames cannot be told to be the same: rates differ, or lengths without timecode. Both begin at their first frame.
        </p>
      )}
      {reel && <Bar reel={reel} locked={locked} part={part} isPicture={shown.data?.facts.kind !== 'audio'} />}
      {shown.data && isCut(shown.data) && <p className="soft tight">The preview ends after {PREVIEW_SECONDS / 60} minutes.</p>}
    </div>
  );
}

/** A preview ends before its item does. */
function isCut({ facts }: Item): boolean {
  return mediaTypeOf(facts) === null && reelOf(facts, true).frames > reelOf(facts, false).frames;
}

function reelFor({ facts }: Item): Reel {
  return reelOf(facts, mediaTypeOf(facts) !== null);
}

interface PaneProps {
  readonly item: Item;
  readonly player: RefObject<HTMLVideoElement | null>;
  readonly label: string;
  readonly isReady: boolean;
  readonly isMuted: boolean;
  readonly onReady: () => void;
}

function Pane({ item, player, label, isReady, isMuted, onReady }: PaneProps) {
  const [broken, setBroken] = useState(false);
  const isFile = mediaTypeOf(item.facts) !== null;
  return (
    <figure className={item.facts.video ? 'pane' : 'pane sound'}>
      <video
        ref={player}
        src={`/api/items/${item.id}/media`}
        preload="auto"
        muted={isMuted}
        playsInline
        data-frame-ready={isReady}
        onLoadedData={onReady}
        onError={() => setBroken(true)}
        aria-label={label}
      />
      {broken ? (
        <div className="veil">It cannot be played: its shelf may be away, or the file cannot be read.</div>
      ) : (
        !isReady && <div className="veil">{isFile ? 'Opening the file …' : 'A small preview is being made …'}</div>
      )}
      <figcaption className="soft">
        <b>{label}</b> {fileName(item.place.path)}
        {item.facts.video && ` · ${item.facts.video.width} × ${item.facts.video.height}`}
        {!isFile && ' · shown as a small preview'}
      </figcaption>
    </figure>
  );
}

interface BarProps {
  readonly reel: Reel;
  readonly locked: Locked;
  readonly part: FrameRange | null;
  readonly isPicture: boolean;
}

function Bar({ reel, locked, part, isPicture }: BarProps) {
  const { frame, isPlaying, toggle, go } = locked;
  return (
    <div className="play-bar">
      <ActionIcon variant="default" size={30} aria-label="One frame back" title="One frame back (left)" onClick={() => go(frame - 1)}>
        <IconLeft size={15} />
      </ActionIcon>
      <ActionIcon size={30} aria-label={isPlaying ? 'Stop' : 'Play'} title={`${isPlaying ? 'Stop' : 'Play'} (space)`} onClick={toggle}>
        {isPlaying ? <IconPause size={15} /> : <IconPlay size={15} />}
      </ActionIcon>
      <ActionIcon variant="default" size={30} aria-label="One frame on" title="One frame on (right)" onClick={() => go(frame + 1)}>
        <IconRight size={15} />
      </ActionIcon>
      {part && (
        <>
          <Button size="compact-sm" variant="default" title="To the in point ([)" onClick={() => go(part.start)}>
            In
          </Button>
          <Button size="compact-sm" variant="default" title="To the last frame before the out point (])" onClick={() => go(part.end - 1)}>
            Out
          </Button>
        </>
      )}
      <Slider
        className="grow"
        {...(part ? { marks: [{ value: part.start }, { value: part.end - 1 }] } : {})}
        size="sm"
        aria-label="Frame"
        label={null}
        min={0}
        max={Math.max(1, reel.frames - 1)}
        step={1}
        value={frame}
        onChange={go}
        thumbLabel="Frame"
      />
      <span className="mono play-timecode" data-frame={frame}>
        {reel.startFrame === null ? '' : frameToTimecode(reel.startFrame + frame, reel.rate, reel.dropFrame)}
      </span>
      <span className="soft">{isPicture ? `frame ${frame} of ${reel.frames}` : `${(frame / 25).toFixed(1)} s`}</span>
    </div>
  );
}
