/** Two players that stand on the same timecode: what one does the other follows. */
import { useEffect, useRef, useState, type RefObject } from 'react';
import type { MediaFacts } from '../../../core/media/item';
import { PREVIEW_SECONDS } from '../../../core/media/playable';
import { formatRate, rate, type Rate } from '../../../core/time/rate';
import { send } from './seek';

export interface Reel {
  /** Frames that can be stood on, from 0; of sound, counted at 25 a second. */
  readonly frames: number;
  readonly rate: Rate;
  /** Frame that timecode counts the first one as; null where there is none. */
  readonly startFrame: number | null;
  readonly dropFrame: boolean;
}

const SOUND_RATE = rate(25);

/** What of an item the player counts. */
export function reelOf({ kind, rate: own, durationFrames, startFrame, startTimecode, sequence }: MediaFacts, isWhole: boolean): Reel {
  const counted = kind === 'audio' || own === null ? SOUND_RATE : own;
  const length = durationFrames ?? 1;
  const frames = kind === 'audio' && own ? Math.ceil((length * own.den * counted.num) / (own.num * counted.den)) : length;
  const most = isWhole ? frames : Math.floor((PREVIEW_SECONDS * counted.num) / counted.den);
  return {
    frames: Math.max(1, Math.min(frames, most)),
    rate: counted,
    startFrame: kind === 'audio' || sequence ? null : startFrame,
    dropFrame: startTimecode?.includes(';') ?? false,
  };
}

/** The middle of a frame, in seconds: a player that is sent there shows it, however it rounds. */
export function middleOf(frame: number, { num, den }: Rate): number {
  return ((frame + 0.5) * den) / num;
}

export function frameAt(seconds: number, { num, den }: Rate): number {
  // A player stands a little before or after where it was sent.
  return Math.max(0, Math.floor((seconds * num) / den + 1e-3));
}

/** How many frames `other` is ahead of `own` at the same timecode; null where they cannot be locked. */
export function offsetBetween(own: Reel, other: Reel): number | null {
  if (formatRate(own.rate) !== formatRate(other.rate)) return null;
  if (own.startFrame === null || other.startFrame === null) return own.frames === other.frames ? 0 : null;
  return own.startFrame - other.startFrame;
}

export interface Locked {
  readonly frame: number;
  readonly isPlaying: boolean;
  readonly toggle: () => void;
  /** To a frame of the first, from 0; beyond the ends to the ends. */
  readonly go: (frame: number) => void;
}

type Player = RefObject<HTMLVideoElement | null>;

/** A player that plays and does not move for so long is sent to where it stands, which wakes it; in milliseconds. */
const STUCK_MS = 800;

/** `offset`: frames the second is ahead; null where it is alone. `begin`: frame that is stood on at first, and again when it is another. */
export function useLocked(first: Player, second: Player, reel: Reel | null, offset: number | null, begin: number): Locked {
  const [frame, setFrame] = useState(begin);
  const [isPlaying, setPlaying] = useState(false);
  const now = useRef(begin);
  const stand = (to: number) => {
    now.current = to;
    setFrame(to);
  };
  const follow = (to: number) => {
    if (second.current && reel && offset !== null) send(second.current, middleOf(Math.max(0, to + offset), reel.rate));
  };
  const go = (to: number) => {
    if (!reel) return;
    const at = Math.max(0, Math.min(reel.frames - 1, to));
    first.current?.pause();
    second.current?.pause();
    setPlaying(false);
    if (first.current) send(first.current, middleOf(at, reel.rate));
    follow(at);
    stand(at);
  };
  const toggle = () => {
    const player = first.current;
    if (!player || !reel) return;
    if (isPlaying) return go(frameAt(player.currentTime, reel.rate));
    if (now.current >= reel.frames - 1) go(0);
    follow(now.current);
    setPlaying(true);
    void player.play().catch(() => setPlaying(false));
    void second.current?.play().catch(() => undefined);
  };
  useEffect(() => stand(begin), [begin]);
  useEffect(() => {
    if (!isPlaying || !reel) return undefined;
    let timer = 0;
    let moved = { at: -1, when: performance.now() };
    const tick = () => {
      const player = first.current;
      if (!player) return;
      const clock = performance.now();
      if (player.currentTime !== moved.at) moved = { at: player.currentTime, when: clock };
      else if (clock - moved.when > STUCK_MS) {
        moved = { at: player.currentTime, when: clock };
        send(player, player.currentTime);
      }
      const at = Math.min(reel.frames - 1, frameAt(player.currentTime, reel.rate));
      stand(at);
      const other = second.current;
      // More than a frame apart they are brought together again.
      if (other && offset !== null && Math.abs(other.currentTime - player.currentTime - (offset * reel.rate.den) / reel.rate.num) > (1.5 * reel.rate.den) / reel.rate.num) follow(at); // prettier-ignore
      if (player.ended || at >= reel.frames - 1) return go(at);
      timer = requestAnimationFrame(tick);
    };
    timer = requestAnimationFrame(tick);
    return () => cancelAnimationFrame(timer);
  }, [isPlaying, reel, offset]);
  return { frame, isPlaying, toggle, go };
}
