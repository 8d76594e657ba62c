/** Snapshots made up for tests of the planners. */
import { readOtioDocument } from '../../src/core/interchange/otio/otio-reader';
import type { OtioObject } from '../../src/core/interchange/otio/otio-types';
import {
  clipDocument,
  externalReference,
  rationalTime,
  timelineDocument,
  timeRange,
  trackDocument,
} from '../../src/core/interchange/otio/otio-writer';
import { fileName, type Item, type MediaFacts } from '../../src/core/media/item';
import { USUAL } from '../../src/core/matching/additions';
import { namesAsked, tellsOf, widerAsked } from '../../src/core/matching/tells';
import type { Told } from '../../src/core/matching/told';
import { nameKey } from '../../src/core/naming/sort-key';
import { expectedFrom, type Clip, type Expected } from '../../src/core/project/clip';
import { activeReference, clipEvents } from '../../src/core/project/timeline';
import type { Made } from '../../src/core/rendition/recipe';
import { rate, type Rate } from '../../src/core/time/rate';
import type { Sharer } from '../../src/core/planning/evidence/proof';
import { findOffline } from '../../src/core/planning/relink/offline';
import { planRelink, wantedByRelink, type Found, type RelinkDetail, type Wanted } from '../../src/core/planning/relink/relink';
import type { RelinkSettings } from '../../src/core/planning/relink/settings';
import type { Plan } from '../../src/core/planning/plan/plan';
import type { PlanText } from '../../src/core/planning/plan/plan-text';
import type { ShelfSnapshot, Snapshot, TimelineSnapshot } from '../../src/core/planning/plan/snapshot';

export const PAL = rate(25);

/** A text of a plan, which keeps none apart. */
export function plain(text: PlanText): string {
  if (typeof text !== 'string') throw new Error('The text stands elsewhere.');
  return text;
}

export const VIDEO: MediaFacts = {
  kind: 'video',
  container: 'mov',
  rate: PAL,
  durationFrames: 1000,
  startFrame: 900_000,
  startTimecode: '10:00:00:00',
  dropFrame: false,
  reel: 'A001',
  video: {
    codec: 'prores',
    profile: null,
    width: 1920,
    height: 1080,
    pixelFormat: 'yuv422p10le',
    bitDepth: 10,
    alpha: false,
    colorTransfer: null,
    colorPrimaries: null,
  },
  audio: [],
  sequence: null,
  extraTracks: { pictures: 0, covers: 0, subtitles: 0, data: 0 },
  steadyRate: true,
};

export const SOUND: MediaFacts = {
  ...VIDEO,
  kind: 'audio',
  container: 'wav',
  rate: rate(48_000),
  durationFrames: 48_000 * 40,
  startFrame: 1_728_000_000,
  startTimecode: null,
  reel: null,
  video: null,
  audio: [{ codec: 'pcm_s24le', channels: 2, sampleRate: 48_000, bitDepth: 24 }],
};

export function item(path: string, facts: Partial<MediaFacts> = {}, own: Partial<Item> = {}): Item {
  return {
    id: `item ${own.place?.shelfId ?? 'A'} ${path}`,
    place: { shelfId: 'A', path },
    sizeBytes: 1_000_000,
    modifiedMs: 1,
    identity: null,
    fingerprint: `2:print of ${path}:14/14`,
    facts: { ...VIDEO, ...facts },
    problem: null,
    ...own,
  };
}

export function shelf(id: string, own: Partial<ShelfSnapshot> = {}): ShelfSnapshot {
  return { id, name: `SHELF-${id}`, attached: true, writable: true, capacityBytes: 1e12, freeBytes: 5e11, ...own };
}

/** An event of the file `path`; `from` counts from the media's first frame, `start` where its count begins. */
export function cut(path: string, from: number, length: number, start = 900_000, r: Rate = PAL, frames = 1000): OtioObject {
  return clipDocument(path, timeRange(start + from, length, r), externalReference(path, path, timeRange(start, frames, r)));
}

export function timeline(id: string, children: OtioObject[]): OtioObject {
  return timelineDocument(id, rationalTime(0, PAL), [trackDocument('V1', 'Video', children)]);
}

/** Of a file of which nothing is remembered. */
export const UNKNOWN: Expected = {
  name: '',
  sizeBytes: null,
  fingerprint: null,
  rate: null,
  durationFrames: null,
  startFrame: null,
  reel: null,
  kind: null,
};

interface Parts {
  readonly timelines: readonly OtioObject[];
  readonly items: readonly Item[];
  readonly shelves?: readonly ShelfSnapshot[];
  /** What is remembered of a file, where it differs from what stands there. */
  readonly expected?: Readonly<Record<string, Partial<Expected>>>;
}

/** One clip for each address in the timelines, linked to shelf A under that path. */
export function snapshot({ timelines, items, shelves = [shelf('A'), shelf('B')], expected = {} }: Parts): Snapshot {
  const clips = new Map<string, Clip>();
  const read = timelines.map((document): TimelineSnapshot => {
    const model = readOtioDocument(document, PAL).timelines[0]!.timeline;
    const clipIds = [...clipEvents(model.tracks)].map((event) => {
      const reference = activeReference(event)!;
      const path = reference.url;
      if (path === null) return null;
      const standing = items.find((entry) => entry.place.path === path);
      const unknown: Expected = { ...UNKNOWN, name: path.split('/').at(-1)! };
      const remembered = { ...(standing ? expectedFrom(standing, standing.place.path.split('/').at(-1)!) : unknown), ...expected[path] };
      const link = { place: { shelfId: 'A', path }, url: path, expected: remembered };
      clips.set(path, {
        id: path,
        name: path,
        binPath: '',
        mediaStart: reference.availableStart,
        setAside: false,
        note: '',
        colour: '',
        marks: null,
        conform: 'by-time',
        madeBy: 'timeline',
        mediaKey: path,
        renditions: [{ id: `r ${path}`, kind: 'source', links: [link] }],
      });
      return path;
    });
    return { id: model.name, model, document, clipIds };
  });
  return { project: { id: 'p', name: 'Bronze Hour', rate: PAL, dropFrame: false }, clips: [...clips.values()], timelines: read, shelves, items };
}

function sharerOf({ id, sizeBytes, identity, sha256 }: Item): Sharer {
  return { itemId: id, isGone: false, sizeBytes, modifiedNs: identity?.modifiedNs ?? null, sha256: sha256 ?? null, knownAt: null, seenAt: null };
}

/** A relink that may find everything that is in the snapshot. */
export function relinkIn(from: Snapshot, settings: RelinkSettings): Plan<RelinkDetail> {
  const offline = findOffline(from);
  const answers = (told: Told, candidate: Item) => {
    const tells = tellsOf(candidate);
    const { reels, added, ...wider } = widerAsked(told, USUAL);
    const names = [...namesAsked(told), ...wider.names];
    return tells.some((key) => names.includes(key) || reels.includes(key) || added.some((range) => key >= range.from && key < range.to && key.length === range.length)); // prettier-ignore
  };
  const mayBe = ({ expected, told }: Wanted, candidate: Item) =>
    (told !== null && answers(told, candidate)) ||
    (expected.fingerprint !== null && expected.fingerprint === candidate.fingerprint) ||
    (expected.name !== '' && nameKey(expected.name) === nameKey(fileName(candidate.place.path))) ||
    (expected.reel !== null && expected.reel.toLowerCase() === candidate.facts.reel?.toLowerCase());
  const sharers = new Map(
    from.items.flatMap(({ fingerprint: print }): [string, Sharer[]][] =>
      print === null ? [] : [[print, from.items.filter((other) => other.fingerprint === print).map(sharerOf)]],
    ),
  );
  const found = wantedByRelink(offline).map((wanted): [string, Found] => [
    wanted.key,
    { items: from.items.filter((candidate) => mayBe(wanted, candidate)), sharers },
  ]);
  return planRelink(from, settings, offline, new Map(found));
}

/** The same snapshot with a proxy of some of its clips: by the path of their source, the item that it is. */
export function withProxies(from: Snapshot, proxies: Readonly<Record<string, Item>>, presetId: Made['presetId'] = 'pocket'): Snapshot {
  const clips = from.clips.map((clip): Clip => {
    const proxy = proxies[clip.id];
    if (!proxy) return clip;
    const link = { place: proxy.place, url: '', expected: expectedFrom(proxy, fileName(proxy.place.path)) };
    const made = { presetId, burnIn: false, sourcePrint: null, at: '2026-11-30T00:00:00Z' };
    return { ...clip, renditions: [...clip.renditions, { id: `proxy ${clip.id}`, kind: 'proxy', links: [link], made }] };
  });
  return { ...from, clips, items: [...from.items, ...Object.values(proxies)] };
}
