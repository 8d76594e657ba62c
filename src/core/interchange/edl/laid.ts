/** Events laid on one track for a list, and layers of several made one: the topmost picture of every moment. */
import type { ClipEvent, Transition } from '../../project/timeline';

/** An event or nothing (black) on a track, in record frames from the timeline's first. */
export interface Laid {
  readonly start: number;
  readonly end: number;
  /** Frames of the event that lie before `start` and are not shown. */
  readonly headFrames: number;
  readonly event: ClipEvent | null;
  /** Reel and name of what is no clip. */
  readonly stand: string;
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

function comesAfter({ piece }: LaidAfter, track: readonly LaidAfter[]): boolean {
  return track.some(({ piece: other }) => other.end === piece.start && (other.event !== null || other.stand !== ''));
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
      const tail = { ...part, start: over.end, headFrames: part.headFrames + over.end - part.start };
      return [head, tail].filter(({ start, end }) => end > start);
    });
  if (parts.length === 0) covered.push(entry.piece);
  const isFirst = parts[0]?.start === entry.piece.start;
  if (entry.before && !isFirst) lost.push(entry.before);
  return parts.map((piece, index) => ({ piece, before: index === 0 && isFirst ? entry.before : null }));
}
