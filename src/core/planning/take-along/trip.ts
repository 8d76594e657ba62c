/** What goes along on a trip: of each clip the best that fits, and what is given up for it. */
import { placeKey } from '../../media/item';
import { renditionState, sourceRendition, type Clip, type Rendition } from '../../project/clip';
import type { RenditionKind } from '../../rendition/read-order';
import { framesToSeconds } from '../../time/convert';
import { warns, type Finding } from '../../words/finding';
import { formatDuration, plural, oneOrMany } from '../../words/figures';
import type { ShelfSnapshot, Snapshot } from '../plan/snapshot';
import { stockOf } from '../plan/stock-view';
import type { ClipScope } from '../taking/clip-scope';
import { forEachEventUse } from '../taking/used-media';
import { pack } from './packing';
import type { Trip } from './settings';

export interface TripSum {
  /** Bytes there are for it; null where there is no drive yet. */
  readonly room: number | null;
  /** Bytes it would take to have the best of all of them. */
  readonly bestBytes: number;
  /** Clips that are read by each kind then. */
  readonly clips: Readonly<Record<RenditionKind, number>>;
  /** Clips that get less than their best, and the seconds of the timelines that read them. */
  readonly givenUp: ClipsAndSeconds;
  /** Clips that do not go along for want of room. */
  readonly left: ClipsAndSeconds;
}

interface ClipsAndSeconds {
  readonly clips: number;
  readonly seconds: number;
}

export interface Packed {
  readonly takings: readonly Taking[];
  readonly left: readonly { readonly clip: Clip; readonly why: string }[];
  readonly sum: TripSum;
  readonly findings: readonly Finding[];
}

/** A rendition of a clip that can be taken, under the kind that it is taken for: what is its own proxy goes with the proxies. */
export interface Choice {
  readonly kind: RenditionKind;
  readonly clip: Clip;
  readonly rendition: Rendition;
}

/** A choice that was made. `insteadOf`: the better kind that did not fit. */
export interface Taking extends Choice {
  readonly insteadOf: RenditionKind | null;
}

interface Choosable {
  readonly clip: Clip;
  /** From what is read first on. */
  readonly options: readonly Choice[];
}

/** Bytes of a drive that a trip may fill; null where it is not there. */
export function roomOf(trip: Trip, shelf: ShelfSnapshot | null): number | null {
  if (!shelf?.attached) return null;
  const free = shelf.freeBytes ?? Number.MAX_SAFE_INTEGER;
  return Math.max(0, Math.min(free - keptFree(trip, shelf), trip.mostBytes ?? free));
}

/** Bytes that stay free for what is made there. */
export function keptFree({ days, dayBytes }: Trip, shelf: ShelfSnapshot | null): number {
  return days * (dayBytes ?? Math.round((shelf?.capacityBytes ?? 0) / 100));
}

export function driveOf({ destination }: Trip, { shelves }: Pick<Snapshot, 'shelves'>): ShelfSnapshot | null {
  return shelves.find(({ id }) => id === destination?.shelfId) ?? null;
}

export function packTrip(snapshot: Snapshot, scope: ClipScope, choosable: readonly Choosable[], trip: Trip): Packed {
  const stock = stockOf(snapshot);
  const seconds = secondsRead(snapshot, scope);
  const items = ({ rendition }: Choice) => rendition.links.flatMap(({ place }) => (place ? (stock.itemAt(place) ?? []) : []));
  const isThere = (shelfId: string) => shelfId === trip.destination?.shelfId;
  // Clips of the same files are one: they go along or stay together.
  const units = new Map<string, { clips: Choosable[]; seconds: number; options: { bytes: number }[] }>();
  for (const own of choosable) {
    const key = own.options.length === 0 ? own.clip.id : own.options.map((option) => `${option.kind} ${items(option).map(({ place }) => placeKey(place)).join(' ')}`).join('\n'); // prettier-ignore
    const options = own.options.map((option) => ({ bytes: bytesOf(items(option).filter(({ place }) => !isThere(place.shelfId))) }));
    const unit = units.get(key) ?? { clips: [], seconds: 0, options };
    unit.clips.push(own);
    unit.seconds += seconds.get(own.clip.id) ?? 0;
    units.set(key, unit);
  }
  const list = [...units.values()];
  const room = roomOf(trip, driveOf(trip, snapshot));
  // Without a drive: as if all of it had room.
  const taken = pack(list, room ?? Number.MAX_SAFE_INTEGER);
  const takings: Taking[] = [];
  const left: { clip: Clip; why: string }[] = [];
  const clips: Record<RenditionKind, number> = { source: 0, mezzanine: 0, proxy: 0, finished: 0 };
  const [givenUp, stays] = [
    { clips: 0, seconds: 0 },
    { clips: 0, seconds: 0 },
  ];
  for (const [index, unit] of list.entries()) {
    const best = taken[index] ?? null;
    const sum = best === null ? stays : best > 0 ? givenUp : null;
    if (sum && unit.options.length > 0) {
      sum.clips += unit.clips.length;
      sum.seconds += unit.seconds;
    }
    for (const { clip, options } of unit.clips) {
      if (best === null) {
        const source = sourceRendition(clip);
        left.push({ clip, why: options.length > 0 ? 'no room' : `it is ${source ? renditionState(source, stock) : 'missing'}` });
        continue;
      }
      takings.push({ ...options[best]!, insteadOf: best > 0 ? options[0]!.kind : null });
      clips[options[best]!.kind]++;
    }
  }
  const sum: TripSum = { room, bestBytes: list.reduce((all, { options }) => all + (options[0]?.bytes ?? 0), 0), clips, givenUp, left: stays };
  return { takings, left, sum, findings: tripFindings(sum) };
}

function bytesOf(items: readonly { readonly sizeBytes: number }[]): number {
  return items.reduce((sum, { sizeBytes }) => sum + sizeBytes, 0);
}

/** Seconds that events of the timelines read of each clip; of all timelines where the scope names none. */
function secondsRead(snapshot: Snapshot, scope: ClipScope): Map<string, number> {
  const seconds = new Map<string, number>();
  const timelineIds = scope.of === 'timelines' ? scope.timelineIds : snapshot.timelines.map(({ id }) => id);
  forEachEventUse(snapshot, timelineIds, false, ({ clip, use }) => {
    const { start, end } = use.source;
    seconds.set(clip.id, (seconds.get(clip.id) ?? 0) + framesToSeconds(end - start, use.rate));
  });
  return seconds;
}

function tripFindings({ givenUp, left }: TripSum): Finding[] {
  const many = (count: number) => plural(count, 'clip');
  const read = (seconds: number) => (seconds > 0 ? `, ${formatDuration(seconds)} of the timelines` : '');
  const findings: Finding[] = [];
  if (left.clips > 0) findings.push(warns('no-room-for', `${many(left.clips)}${read(left.seconds)}, ${oneOrMany(left.clips, 'stays', 'stay')} behind for want of room: offline on the way.`, 'Take a larger drive, keep less of it free, or make proxies first.')); // prettier-ignore
  if (givenUp.clips > 0) findings.push(warns('given-up', `${many(givenUp.clips)}${read(givenUp.seconds)}, ${oneOrMany(givenUp.clips, 'goes', 'go')} along lighter than what is read here.`)); // prettier-ignore
  return findings;
}
