/** Events laid on one track for a list, and layers of several made one: the topmost picture of every moment. */
import Fraction from 'fraction.js';
import type { ClipEvent, NestedStack, Transition } from '../../project/timeline';

/** An event or nothing (black) on a track, in record frames from the timeline's first. */
export interface Laid {
  readonly start: number;
  readonly end: number;
  /** Frames of the event that lie before `start` and are not shown. */
  readonly headFrames: number;
  readonly event: ClipEvent | null;
  /** Reel and name of what is no clip. */
  readonly stand: string;
  /** Of an event within a nested timeline that has a speed of its own; absent elsewhere. */
  readonly pace?: Pace;
}

/** How an event is gone through: which of its frames a frame of the piece shows, and how many pass with each. */
export interface Pace {
  readonly speed: Fraction;
  readonly frameAt: (frame: number) => number;
}

export interface LaidAfter {
  readonly piece: Laid;
  /** The transition that leads into it. */
  readonly before: Transition | null;
}

export interface Flattened {
  readonly laid: readonly LaidAfter[];
  /** Wholly covered by what lies above, and transitions whose neighbour is. */
  readonly covered: readonly Laid[];
  readonly lostTransitions: readonly Transition[];
}

/** `tracks`: the lowest first. Whatever lies above hides all below it; nothing above lets it be seen. */
export function flatten(tracks: readonly (readonly LaidAfter[])[]): Flattened {
  let below: LaidAfter[] = [];
  const covered: Laid[] = [];
  const lost: Transition[] = [];
  for (const track of tracks) {
    const shown = track.filter(({ piece }) => piece.event !== null || piece.stand !== '');
    const left = below.flatMap((entry) => remaining(entry, shown, covered, lost));
    // A transition out of nothing, with a picture of a track below in its place, has no form in a list.
    const above = shown.map((entry) => (entry.before && !comesAfter(entry, track) ? withoutTransition(entry, lost) : entry));
    below = [...left, ...above].sort((a, b) => a.piece.start - b.piece.start);
  }
  // What a transition came from may be covered by now.
  const laid = below.map((entry, index) => {
    const previous = below[index - 1]?.piece;
    return entry.before && previous?.end !== entry.piece.start ? withoutTransition(entry, lost) : entry;
  });
  return { laid, covered, lostTransitions: lost };
}

type Window = { readonly start: number; readonly end: number };

/** Frames inside a nested timeline that its frames [from, to) show, rounded outwards. Its speed must be one that does not vary. */
export function shownInside(item: NestedStack, { start: from, end: to }: Window): Window {
  const [a, b] = [from, to].map((frame) => positionInside(item, frame));
  const [first, last] = a!.compare(b!) < 0 ? [a!, b!] : [b!, a!];
  return { start: whole(first.floor()), end: Math.max(whole(last.ceil()), whole(first.floor()) + 1) };
}

/**
 * Pieces that lie inside a nested timeline as its frames [from, to) show them, counted from its first: each at the speed of the
 * nested timeline. Which piece a frame shows is decided where it begins; backwards where it ends.
 */
export function atSpeedOf(item: NestedStack, inside: readonly Laid[], shown: Window): Laid[] {
  const speed = speedOf(item);
  const pieces = inside.flatMap((piece): Laid[] => {
    const [from, to] = framesShowing(item, piece, shown);
    if (to <= from) return [];
    const inner = piece.pace ?? { speed: new Fraction(1), frameAt: (frame: number) => piece.headFrames + frame };
    const frameAt = (frame: number) => inner.frameAt(frameInside(item, from + frame) - piece.start);
    return [{ ...piece, start: from, end: to, headFrames: 0, pace: { speed: inner.speed.mul(speed), frameAt } }];
  });
  return pieces.sort((a, b) => a.start - b.start);
}

/** Frames of the nested timeline, within `shown`, that show a piece. */
function framesShowing(item: NestedStack, { start, end }: Laid, shown: Window): [number, number] {
  const speed = speedOf(item);
  if (speed.equals(0)) return start <= item.windowStart && end > item.windowStart ? [shown.start, shown.end] : [0, 0];
  const frameAt = (position: number) => {
    const passed = new Fraction(position - item.windowStart).div(speed.abs());
    return whole((speed.compare(0) > 0 ? passed : new Fraction(item.durationFrames).sub(passed)).ceil());
  };
  const [from, to] = speed.compare(0) > 0 ? [frameAt(start), frameAt(end)] : [frameAt(end), frameAt(start)];
  return [Math.max(from, shown.start), Math.min(to, shown.end)];
}

/** Where inside a nested timeline one of its frames begins; backwards it goes from its end. */
function positionInside(item: NestedStack, frame: number): Fraction {
  const speed = speedOf(item);
  const passed = speed.compare(0) < 0 ? speed.abs().mul(item.durationFrames - frame) : speed.mul(frame);
  return passed.add(item.windowStart);
}

/** Which frame inside is shown: where the frame begins; backwards where it ends. */
function frameInside(item: NestedStack, frame: number): number {
  const position = positionInside(item, frame);
  return speedOf(item).compare(0) < 0 ? whole(position.ceil()) - 1 : whole(position.floor());
}

function speedOf({ speed: { num, den } }: NestedStack): Fraction {
  return new Fraction(BigInt(num), BigInt(den));
}

function whole(value: Fraction): number {
  return Number(value.s * value.n);
}

function comesAfter({ piece }: LaidAfter, track: readonly LaidAfter[]): boolean {
  return track.some(({ piece: other }) => other.end === piece.start && (other.event !== null || other.stand !== ''));
}

/** A piece without its first frames. */
function laterBy(piece: Laid, frames: number): Laid {
  const { pace } = piece;
  const on = pace ? { pace: { ...pace, frameAt: (frame: number) => pace.frameAt(frame + frames) } } : { headFrames: piece.headFrames + frames };
  return { ...piece, start: piece.start + frames, ...on };
}

function withoutTransition(entry: LaidAfter, lost: Transition[]): LaidAfter {
  lost.push(entry.before!);
  return { piece: entry.piece, before: null };
}

/** What is left of a piece between those that lie above it. */
function remaining(entry: LaidAfter, above: readonly LaidAfter[], covered: Laid[], lost: Transition[]): LaidAfter[] {
  let parts = [entry.piece];
  for (const { piece: over } of above)
    parts = parts.flatMap((part) => {
      if (over.end <= part.start || over.start >= part.end) return [part];
      const head = { ...part, end: over.start };
      const tail = laterBy(part, over.end - part.start);
      return [head, tail].filter(({ start, end }) => end > start);
    });
  if (parts.length === 0) covered.push(entry.piece);
  const isFirst = parts[0]?.start === entry.piece.start;
  if (entry.before && !isFirst) lost.push(entry.before);
  return parts.map((piece, index) => ({ piece, before: index === 0 && isFirst ? entry.before : null }));
}
