/** Which items the chosen timelines use, how much of each is kept, and how it can be taken. Pull and crate share it. */
import { cutMethod } from '../../media/codec-traits';
import { fileName, placeKey, type Item } from '../../media/item';
import { asSequences } from '../../media/sequence-part';
import { byName } from '../../naming/by-name';
import { linksRead, sourceRendition, sourceState, type Clip, type LinkState } from '../../project/clip';
import { forEachRead, readsOf, type TimelineReads } from '../../project/reads';
import { rangeToRate } from '../../time/convert';
import { clamp, grow, joinGaps, subtract, totalFrames, unite, type RangeSet } from '../../time/range';
import { sameRate, type Rate } from '../../time/rate';
import type { Snapshot, TimelineSnapshot } from '../plan/snapshot';
import { stockOf } from '../plan/stock-view';
import { framesRead, type EventUse } from './event-use';
import { asRead } from './part-read';
import type { UsedMediaSettings } from './settings';

export type TakeMethod = 'trim' | 'frames' | 'whole';

/** One item and what is taken of it. Ranges count item frames from 0. */
export interface UsedItem {
  readonly item: Item;
  readonly state: LinkState;
  readonly clips: readonly Clip[];
  readonly uses: readonly EventUse[];
  readonly used: RangeSet;
  readonly kept: RangeSet;
  readonly method: TakeMethod;
  /** Why it is taken whole; null when it is cut. */
  readonly why: string | null;
  /** Frames that the handles lack because the media ends, over all parts, at the project's rate. */
  readonly shortHandles: boolean;
  /** Used frames that the file does not have. */
  readonly beyondFrames: number;
}

export interface OfflineUse {
  readonly clip: Clip;
  readonly state: LinkState;
  readonly events: number;
}

export interface UsedMedia {
  readonly items: readonly UsedItem[];
  readonly offline: readonly OfflineUse[];
}

/** Every use of every chosen timeline with its clip. Generators and the like have none and are left out. */
export function eventUses(snapshot: Snapshot, timelineIds: readonly string[], countDisabled: boolean): EventUse[] {
  const uses: EventUse[] = [];
  forEachEventUse(snapshot, timelineIds, countDisabled, (use) => uses.push(use));
  return uses;
}

/** Like `eventUses`, one by one. `of`: uses of these clips alone. */
export function forEachEventUse(
  snapshot: Pick<Snapshot, 'clips' | 'timelines'>,
  timelineIds: readonly string[],
  countDisabled: boolean,
  tell: (use: EventUse) => void,
  of?: ReadonlySet<string>,
): void {
  const clips = clipsById(snapshot.clips);
  const wanted = new Set(timelineIds);
  for (const timeline of snapshot.timelines) {
    const timelineId = timeline.id;
    if (!wanted.has(timelineId)) continue;
    const reads = readsIn(timeline);
    const owners = reads.clipIds.map((id) => (of && !of.has(id) ? null : (clips.get(id) ?? null)));
    if (owners.some((clip) => clip !== null))
      forEachRead(reads, owners, countDisabled, (clip, use, named, span) => tell({ timelineId, clip, use, named, span }));
  }
}

/** Lists of clips never change: each is gone through once. */
const indexes = new WeakMap<readonly Clip[], ReadonlyMap<string, Clip>>();

function clipsById(clips: readonly Clip[]): ReadonlyMap<string, Clip> {
  const index = indexes.get(clips) ?? new Map(clips.map((clip) => [clip.id, clip]));
  indexes.set(clips, index);
  return index;
}

const made = new WeakMap<TimelineSnapshot, TimelineReads>();

/** What a timeline reads, as it is kept; else from its model. */
export function readsIn(timeline: TimelineSnapshot): TimelineReads {
  const known = timeline.reads ?? made.get(timeline);
  if (known) return known;
  const reads = readsOf(timeline.model, timeline.clipIds, timeline.positions);
  made.set(timeline, reads);
  return reads;
}

export function findUsedMedia(snapshot: Snapshot, settings: UsedMediaSettings): UsedMedia {
  const stock = stockOf(snapshot);
  const byClip = new Map<string, EventUse[]>();
  for (const told of eventUses(snapshot, settings.timelineIds, settings.countDisabled)) {
    const use = asRead(told, stock);
    // What reads a part of its source is taken from that.
    const key = use.clip === told.clip ? use.clip.id : `${use.clip.id} ${sourceRendition(use.clip)!.links[0]!.url}`;
    const list = byClip.get(key);
    if (list) list.push(use);
    else byClip.set(key, [use]);
  }
  const offline: OfflineUse[] = [];
  const byItem = new Map<string, { item: Item; state: LinkState; clips: Clip[]; uses: EventUse[] }>();
  for (const uses of byClip.values()) {
    const clip = uses[0]!.clip;
    const state = sourceState(clip, stock);
    if (state !== 'present') {
      offline.push({ clip, state, events: uses.length });
      continue;
    }
    for (const use of uses) {
      for (const { place } of linksRead(clip, use.use.trackKind === 'audio', use.named, stock)) {
        const item = place ? stock.itemAt(place) : null;
        if (!item) continue;
        const key = placeKey(item.place);
        const entry = byItem.get(key) ?? { item, state, clips: [], uses: [] };
        // Clips come one after the other.
        if (entry.clips.at(-1) !== clip) entry.clips.push(clip);
        entry.uses.push(use);
        byItem.set(key, entry);
      }
    }
  }
  const items = [...byItem.values()].map((entry) => usedItem(entry, settings, snapshot.project.rate));
  return { items: items.sort((a, b) => byName(fileName(a.item.place.path), fileName(b.item.place.path))), offline };
}

function usedItem(
  entry: { item: Item; state: LinkState; clips: Clip[]; uses: EventUse[] },
  settings: UsedMediaSettings,
  projectRate: Rate,
): UsedItem {
  const { item } = entry;
  const facts = item.facts;
  const used = unite(entry.uses.map((use) => framesRead(use, facts)));
  const length = facts.durationFrames;
  const base = entry;
  const rate = facts.rate ?? entry.uses[0]!.use.rate;
  const limits = { start: 0, end: length ?? 0 };
  const beyondFrames = length === null ? 0 : totalFrames(subtract(used, [limits]));
  const inside = length === null ? used : clamp(used, limits);
  const whole = (why: string): UsedItem => ({
    ...base,
    used: inside,
    kept: length === null ? inside : [limits],
    method: 'whole',
    why,
    shortHandles: false,
    beyondFrames,
  });
  if (settings.media === 'whole') return whole('whole files are asked for');
  const cut = cutMethod(facts);
  if (cut.method === 'whole') return whole(cut.why);
  const inItemFrames = (projectFrames: number) =>
    sameRate(rate, projectRate) ? projectFrames : rangeToRate({ start: 0, end: projectFrames }, projectRate, rate).end;
  const wanted = joinGaps(grow(inside, inItemFrames(settings.headFrames), inItemFrames(settings.tailFrames)), inItemFrames(settings.joinGapFrames));
  const inLimits = clamp(wanted, limits);
  const shortHandles = totalFrames(inLimits) < totalFrames(wanted);
  const kept = facts.sequence ? asSequences(inLimits, facts.sequence) : inLimits;
  if (kept.length === 1 && totalFrames(kept) === length) return { ...whole('all of it is kept'), shortHandles };
  if (kept.length === 0) return whole('the timelines point outside it');
  return { ...base, used: inside, kept, method: cut.method, why: null, shortHandles, beyondFrames };
}

/** Bytes a part of an item takes: in proportion to its frames. Exact only for the whole. */
export function partBytes(item: Item, frameCount: number): number {
  const length = item.facts.durationFrames ?? item.facts.sequence?.lastNumber ?? 0;
  return length === 0 ? item.sizeBytes : Math.ceil((item.sizeBytes * frameCount) / length);
}
