/** Lists matched with files that are made up, as the server does it: by the keys of the index, then by the core. */
import { readTimelineFile } from '../../src/core/interchange/read-timeline-file';
import { additionsFrom, USUAL_ADDITIONS } from '../../src/core/matching/additions';
import { matchAll } from '../../src/core/matching/match-all';
import type { Decision } from '../../src/core/matching/decide';
import { sourcesOf, type Source } from '../../src/core/matching/sources';
import { namesAsked, tellsOf, widerAsked } from '../../src/core/matching/tells';
import type { Item, MediaFacts } from '../../src/core/media/item';
import type { Rate } from '../../src/core/time/rate';
import { item, PAL, SOUND } from './snapshots';

/** A file without timecode or reel, as most cameras write them: 4 s of picture with sound. */
export function plainFile(path: string, facts: Partial<MediaFacts> = {}, shelfId = 'A', own: Partial<Item> = {}): Item {
  const audio = [{ codec: 'aac', channels: 2, sampleRate: 48_000, bitDepth: null }];
  return item(
    path,
    { reel: null, startFrame: null, startTimecode: null, durationFrames: 100, audio, ...facts },
    { place: { shelfId, path }, ...own },
  );
}

/** A file with timecode from `hours`:`minutes` on, and a reel where it has one. */
export function timedFile(path: string, hours: number, minutes: number, facts: Partial<MediaFacts> = {}, shelfId = 'A'): Item {
  return plainFile(path, { startFrame: (hours * 60 + minutes) * 60 * 25, durationFrames: 1500, ...facts }, shelfId);
}

export function soundFile(path: string, facts: Partial<MediaFacts> = {}, shelfId = 'A'): Item {
  return item(path, { ...SOUND, startFrame: null, ...facts }, { place: { shelfId, path } });
}

export interface MatchedList {
  readonly sources: readonly Source[];
  readonly decisions: readonly Decision[];
}

interface Told {
  readonly rate?: Rate;
  readonly away?: readonly string[];
  readonly additions?: readonly string[];
}

export function matchList(
  text: string,
  items: readonly Item[],
  { rate = PAL, away = [], additions: rules = USUAL_ADDITIONS }: Told = {},
): MatchedList {
  const file = readTimelineFile(text, rate);
  const loose = file.clips.map(({ document }) => readTimelineFile(JSON.stringify({ OTIO_SCHEMA: 'Stack.1', name: '', children: [document] }), rate).timelines[0]!); // prettier-ignore
  const sources = [
    ...file.timelines.flatMap(({ timeline, document }) => sourcesOf(timeline, document).all),
    ...loose.flatMap(({ timeline, document }, index) =>
      sourcesOf(timeline, document, true).all.map((source) => ({ ...source, key: `${index} ${source.key}` })),
    ),
  ];
  const additions = additionsFrom(rules);
  const tells = items.map((own) => ({ own, keys: tellsOf(own) }));
  const candidates = ({ told }: { told: Source['told'] }) => {
    const { reels, added, ...wider } = widerAsked(told, additions);
    const names = [...namesAsked(told), ...wider.names];
    const isAsked = (key: string) => names.includes(key) || reels.includes(key) || added.some(({ from, to, length }) => key >= from && key < to && key.length === length); // prettier-ignore
    const isNameless = names.length + reels.length === 0;
    return { items: tells.filter(({ own, keys }) => isNameless ? own.facts.startFrame !== null : keys.some(isAsked)).map(({ own }) => own), isCut: { names: false, reels: false } }; // prettier-ignore
  };
  const context = { additions, shelfName: (id: string) => `CARD_${id}`, isAttached: (id: string) => !away.includes(id) };
  const decisions = matchAll(sources, candidates, context);
  return { sources, decisions: sources.map(({ key }) => decisions.get(key)!) };
}

/** One event of picture, source in and out as labels; the record follows the source from an hour on. */
export function edlEvent(reel: string, sourceIn: string, sourceOut: string, comments: readonly string[] = [], channels = 'V'): string {
  const lines = [`001  ${reel.padEnd(8)} ${channels.padEnd(5)} C        ${sourceIn} ${sourceOut} 01:00:00:00 ${recordOut(sourceIn, sourceOut)}`, ...comments]; // prettier-ignore
  return `TITLE: BRONZE HOUR\nFCM: NON-DROP FRAME\n\n${lines.join('\n')}\n`;
}

function recordOut(sourceIn: string, sourceOut: string): string {
  const frames = (label: string) => label.split(/[:;.]/).reduce((sum, part, index) => sum * (index === 3 ? 25 : 60) + Number(part), 0);
  const length = frames(sourceOut) - frames(sourceIn);
  const pad = (value: number) => String(value).padStart(2, '0');
  return `01:00:${pad(Math.floor(length / 25))}:${pad(length % 25)}`;
}
