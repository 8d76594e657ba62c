/** Exchange and take along at full weight: 100,000 events of 20,000 clips, all of one reel, against parsing the timeline's text. Nothing here passes or fails. */
import { planExchange, type ExchangeChange } from '../src/core/planning/exchange/exchange';
import { exchangedDocument } from '../src/core/planning/exchange/exchanged-document';
import { planGenerations } from '../src/core/planning/generations/generations';
import { planTakeAlong } from '../src/core/planning/take-along/take-along';
import { expectedFrom, type Clip } from '../src/core/project/clip';
import { readTimeline } from '../src/core/interchange/otio/otio-reader';
import { cut, item, PAL, shelf, timeline } from '../tests/helpers/snapshots';

const CLIPS = 20_000;
const EVENTS = 100_000;
const sources = Array.from({ length: CLIPS }, (_, i) => item(`a${i}.mov`, { startFrame: i * 100, durationFrames: 100 }));
const graded = Array.from({ length: CLIPS }, (_, i) =>
  item(`g${i}.mov`, { startFrame: i * 100 + 5, durationFrames: 90 }, { place: { shelfId: 'B', path: `g${i}.mov` } }),
);
const document = timeline(
  't',
  Array.from({ length: EVENTS }, (_, k) => cut(`a${k % CLIPS}.mov`, 10, 20, (k % CLIPS) * 100, PAL, 100)),
);
const clips = sources.map((own, i): Clip => {
  const links = [{ place: own.place, url: '', expected: expectedFrom(own, own.place.path) }];
  const words = {
    note: '',
    colour: '',
    marks: null,
    conform: 'by-time',
    madeBy: 'timeline',
    binPath: '',
    mediaStart: null,
    setAside: false,
  } as const;
  return { ...words, id: `c${i}`, name: `a${i}`, mediaKey: String(i), renditions: [{ id: `r${i}`, kind: 'source', links }] };
});
const snapshot = {
  project: { id: 'p', name: 'Bronze Hour', rate: PAL, dropFrame: false },
  clips,
  timelines: [{ id: 't', model: readTimeline(document, PAL)!, document, clipIds: Array.from({ length: EVENTS }, (_, k) => `c${k % CLIPS}`) }],
  shelves: [shelf('A'), shelf('B')],
  items: [...sources, ...graded],
};

const text = JSON.stringify(document);
const seconds = <T>(work: () => T): [T, number] => {
  const began = performance.now();
  const made = work();
  return [made, (performance.now() - began) / 1000];
};
const [, plain] = seconds(() => JSON.parse(text) as unknown);
const tell = (what: string, took: number) => console.log(`${what}: ${took.toFixed(2)} s, ${(took / plain).toFixed(1)} × parsing its text`);
const settings = { timelineId: 't', scope: { of: 'project' }, among: 'folder', place: { shelfId: 'B', path: '' }, endings: '_graded', inFolders: '', what: 'picture', parts: false,
  newest: false, inPlace: false, name: '', choices: {} } as const; // prettier-ignore
const [plan, planned] = seconds(() => planExchange(snapshot, settings, graded));
tell(`exchange of ${plan.headline.value} events planned`, planned);
const change = (plan.steps[0] as unknown as { change: ExchangeChange }).change;
const media = change.media.map(({ place }) => ({
  item: graded[Number(place.path.slice(1, -4))]!,
  address: 'file:///g',
  name: 'g',
  conform: 'by-time' as const,
}));
tell('its document made', seconds(() => exchangedDocument(document, change, media))[1]);
const none = { isTaken: false, destination: null, folderName: 'x' };
const source = { isTaken: true, destination: { shelfId: 'B', path: '' }, folderName: 'Sources' };
tell(`${CLIPS} sources taken along, planned`, seconds(() => planTakeAlong(snapshot, { scope: { of: 'project' }, rows: { source, mezzanine: none, proxy: none, finished: none }, layout: 'sources', trip: null, asHome: false }))[1]); // prettier-ignore
const light = sources.map(({ place }, i) => item(`p${i}.mov`, { startFrame: i * 100, durationFrames: 100 }, { place: { shelfId: 'A', path: `Light/p${place.path}` }, sizeBytes: 1_000 })); // prettier-ignore
const rendition = (id: string, own: (typeof light)[number], cameBy: number): Clip['renditions'][number] => ({
  id,
  kind: 'proxy',
  links: [{ place: own.place, url: '', expected: expectedFrom(own, own.place.path) }],
  cameBy,
});
const both = {
  ...snapshot,
  items: [...snapshot.items, ...light],
  shelves: [
    ...snapshot.shelves,
    { ...snapshot.shelves[0]!, id: 'C', name: 'C', freeBytes: sources.reduce((sum, { sizeBytes }) => sum + sizeBytes, 0) / 2 },
  ],
  clips: snapshot.clips.map((clip, i): Clip => ({ ...clip, renditions: [...clip.renditions, ...[1, 2, 3, 4].map((run) => rendition(`${clip.id}-${run}`, light[i]!, run))] })), // prettier-ignore
};
const trip = { destination: { shelfId: 'C', path: '' }, folderName: 'Trip', days: 3, dayBytes: 0, mostBytes: null };
const [packed, packing] = seconds(() => planTakeAlong(both, { scope: { of: 'project' }, rows: { source: none, mezzanine: none, proxy: none, finished: none }, layout: 'sources', trip, asHome: false })); // prettier-ignore
tell(`the best of ${CLIPS} that fits half (${JSON.stringify(packed.detail.trip!.clips)}), planned`, packing);
tell('the second of four generations of all of them, planned', seconds(() => planGenerations(both, { scope: { of: 'project' }, rendition: 'proxy', read: 'with-2' }))[1]); // prettier-ignore
