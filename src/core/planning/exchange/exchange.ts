/** Exchange: other pictures or sound under the same edit, event by event, on a new timeline or in the place of the old one. */
import type { OtioObject } from '../../interchange/otio/otio-types';
import { folderOf, placeKey, type Item, type Place } from '../../media/item';
import { sourceRendition, type Clip } from '../../project/clip';
import { isBelowFolder } from '../../rendition/name-rules';
import type { FrameRange } from '../../time/range';
import type { Rate } from '../../time/rate';
import { frameToTimecode } from '../../time/timecode';
import { asks, notes, warns, type Finding } from '../../words/finding';
import { fewNames, formatCount, plural, oneOrMany } from '../../words/figures';
import { countedRange } from '../package/counted-range';
import type { Plan } from '../plan/plan';
import type { Snapshot, TimelineSnapshot } from '../plan/snapshot';
import { linkStep, type CatalogueChange } from '../plan/step';
import { stockOf, type StockView } from '../plan/stock-view';
import { clipsInScope } from '../taking/clip-scope';
import { framesRead, type EventUse } from '../taking/event-use';
import { forEachEventUse } from '../taking/used-media';
import { candidatesOf, heldAgainst, mayBeOf, type Candidates, type HeldAgainst } from './candidates';
import { HELD_BY, heldKey, lackingFrames, spanOf, type Held } from '../taking/held';
import type { ExchangeSettings } from './settings';
import { framesToSeconds } from '../../time/convert';
import { shotSource, type ShotSource } from '../taking/shot-source';
import { NO_TWINS, rivalOf, type AskTwins, type Twinned } from '../taking/twins';

/** Events of a timeline read other items, on a new one that is otherwise the same. */
export interface ExchangeChange extends CatalogueChange {
  readonly type: 'exchange';
  readonly timelineId: string;
  readonly name: string;
  /** What the old one is called from then on; null: it stays as it is. */
  readonly keptAs: string | null;
  readonly media: readonly ExchangedMedia[];
  /** Index of the event, of its media, and where its count of it begins and ends (an OTIO time range); null where it has none. */
  readonly events: readonly (readonly [index: number, media: number, available: OtioObject | null])[];
}

/** What takes an exchange back. `kept`: the old timeline under its other name, and as it was before; null where it stayed. */
export interface ExchangeBack extends CatalogueChange {
  readonly type: 'exchange-back';
  readonly timelineId: string;
  readonly kept: { readonly id: string; readonly asId: string; readonly asName: string } | null;
}

export interface ExchangedMedia {
  readonly place: Place;
  readonly fingerprint: string | null;
  /** Clip in whose place it stands. */
  readonly clipId: string;
  /** At which numbered frames without one of their own are counted: that of their source. Absent in older journals. */
  readonly rate?: Rate;
}

export type ShotFate = 'exchanged' | 'offered' | 'lacks' | 'unfit' | 'none' | 'kept';

/** What an event reads of an item, in its frames, half-open. */
export interface ShotSide {
  readonly itemId: string | null;
  readonly place: Place | null;
  readonly name: string;
  readonly range: FrameRange;
}

export interface ShotCandidate {
  /** What a choice calls it: a file whose numbers may be read in two ways is offered twice. */
  readonly key: string;
  readonly itemId: string;
  readonly place: Place;
  readonly bytes: number;
  readonly by: string;
  readonly misfits: readonly string[];
  /** What the event would read of it, in its frames, half-open; it may lack some of them. */
  readonly range: FrameRange;
  readonly modifiedMs: number;
}

export interface ShotRow {
  /** Index of its event. */
  readonly key: string;
  readonly record: string;
  readonly track: string;
  readonly name: string;
  readonly fate: ShotFate;
  readonly why: string;
  readonly before: ShotSide | null;
  readonly after: ShotSide | null;
  /** Key of the candidate that it reads then; null where it stays. */
  readonly chosen: string | null;
  readonly candidates: readonly ShotCandidate[];
}

export interface ExchangeDetail {
  readonly rows: readonly ShotRow[];
  readonly timeline: string;
  readonly name: string;
  readonly looked: number;
}

const MOST_CANDIDATES = 8;
const NOTHING: HeldAgainst = { reaching: () => [] };

interface Shot {
  readonly at: number;
  readonly use: EventUse;
  readonly row: ShotRow;
  readonly held: Held | null;
  readonly source: ShotSource | null;
}

/** Files that are known to hold parts of sources: by placeKey, and by what copies are known by (fingerprint or content). */
export interface KnownParts {
  readonly places: ReadonlySet<string>;
  readonly marks: ReadonlySet<string>;
}

const NO_PARTS: KnownParts = { places: new Set(), marks: new Set() };

/** `items`: all that stands below the chosen folder; `twins`: other sources that the house knows, of whatever project. */
export function planExchange(
  snapshot: Snapshot,
  settings: ExchangeSettings,
  items: readonly Item[],
  twins: AskTwins = NO_TWINS,
  parts: KnownParts = NO_PARTS,
): Plan<ExchangeDetail> {
  const timeline = snapshot.timelines.find(({ id }) => id === settings.timelineId);
  // Light copies of the project's own clips often lie beside what is finished, under the very names of their sources.
  const proxyPlaces = new Set(snapshot.clips.flatMap(({ renditions }) => renditions.flatMap(({ kind, links }) => (kind === 'proxy' && links[0]?.place ? [placeKey(links[0].place)] : [])))); // prettier-ignore
  const media = items.filter(
    ({ place, problem }) => problem === null && !proxyPlaces.has(placeKey(place)) && isBelowFolder(place.path, settings.inFolders),
  );
  // A pulled part bears the name and the timecode of its source: it would be taken for a finished picture.
  const isPart = ({ place, content, fingerprint }: Item) =>
    parts.places.has(placeKey(place)) || [content, fingerprint].some((mark) => mark != null && parts.marks.has(mark));
  const looked = settings.parts ? media : media.filter((item) => !isPart(item));
  const shots = timeline ? shotsOf(snapshot, timeline, settings, candidatesOf(looked, settings.endings), rivals(snapshot, settings, looked, twins)) : []; // prettier-ignore
  const rows = shots.map(({ row }) => row);
  const count = (fate: ShotFate) => rows.filter((row) => row.fate === fate).length;
  const exchanged = shots.filter(({ row }) => row.fate === 'exchanged');
  const old = timeline?.model.name ?? '';
  const name = settings.inPlace ? old : settings.name.trim() || `${old} · exchanged`;
  const keptAs = settings.inPlace ? settings.name.trim() || `${old} · before the exchange` : null;
  const line = (label: string, fate: ShotFate) => (count(fate) > 0 ? [{ label, text: formatCount(count(fate)) }] : []);
  const blocked = !timeline
    ? 'No timeline is chosen.'
    : settings.among === 'folder' && settings.place === null
      ? 'No folder is chosen.'
      : exchanged.length === 0
        ? 'Nothing is exchanged.'
        : null;
  return {
    kind: 'exchange',
    title: timeline ? `Exchange under ${old}` : 'Exchange',
    projectId: snapshot.project.id,
    headline: { value: exchanged.length, of: rows.length, unit: 'events', words: oneOrMany(exchanged.length, 'is exchanged', 'are exchanged') },
    lines: [
      ...(settings.among === 'folder' ? [{ label: 'Files looked at', text: formatCount(looked.length) }] : []),
      ...(looked.length < media.length ? [{ label: 'Pulled parts, left out', text: formatCount(media.length - looked.length) }] : []),
      ...line('To be chosen', 'offered'),
      ...line('Frames lack', 'lacks'),
      ...line('Found, but do not fit', 'unfit'),
      ...line('Nothing found', 'none'),
      ...line('Left as they are', 'kept'),
      { label: settings.inPlace ? 'Timeline' : 'New timeline', text: name || '–' },
      { label: settings.inPlace ? 'As it was, kept as' : 'The old one', text: keptAs ?? 'stays as it is' },
      { label: 'Effects, speeds, names, markers', text: 'stay' },
    ],
    fills: [],
    findings: [...findingsOf(shots, settings, timeline !== undefined), ...warningsOf(shots, snapshot, settings)],
    steps: blocked || !timeline ? [] : [linkStep(0, `${formatCount(exchanged.length)} of ${formatCount(rows.length)} events`, changeOf(timeline.id, exchanged, name, keptAs))],
    blocked,
    detail: { rows, timeline: old, name, looked: looked.length },
  }; // prettier-ignore
}

/** Another source that a file may be of as well as of the one an event reads; null where there is none or the folders tell. */
type RivalOf = (source: ShotSource, held: Held) => Item | null;

function rivals(snapshot: Snapshot, { endings }: ExchangeSettings, looked: readonly Item[], twins: AskTwins): RivalOf {
  const stock = stockOf(snapshot);
  const isLooked = new Set(looked.map(({ id }) => id));
  return (source, { item }) => {
    if (source.facts.kind === 'still' || source.facts.kind === 'audio') return null;
    const own = twinnedOf(source);
    const others = twins(own).filter(({ id }) => !isLooked.has(id));
    return rivalOf(item, own, others, (twin) => mayBeOf(item, twin, endings), (id) => stock.shelfName(id)); // prettier-ignore
  };
}

function twinnedOf({ link, item, facts, rate, name }: ShotSource): Twinned {
  const seconds = (frames: number | null) => (frames === null || rate === null ? null : framesToSeconds(frames, rate));
  return {
    place: link.place,
    name,
    fingerprint: item?.fingerprint ?? link.expected.fingerprint,
    reel: facts.reel,
    startSeconds: seconds(facts.startFrame),
    seconds: seconds(facts.durationFrames),
    height: facts.video?.height ?? null,
  };
}

function shotsOf(snapshot: Snapshot, timeline: TimelineSnapshot, settings: ExchangeSettings, from: Candidates, rivalIn: RivalOf): Shot[] {
  const stock = stockOf(snapshot);
  const { model } = timeline;
  const wanted = new Set(clipsInScope(snapshot, settings.scope).map(({ id }) => id));
  const shown = new Set<number>();
  forEachEventUse(snapshot, [timeline.id], false, ({ use }) => shown.add(use.event.index), wanted);
  const known = new Map<string, HeldAgainst>();
  const shots: Shot[] = [];
  forEachEventUse(
    snapshot,
    [timeline.id],
    true,
    (use) => {
      const sound = use.use.trackKind === 'audio';
      if (settings.what !== 'both' && sound !== (settings.what === 'sound')) return;
      const source = shotSource(use, stock);
      const read = source && source.rate ? framesRead(use, source.facts) : null;
      const all = source ? heldOf(known, source, use.clip, settings, from, stock, sound) : NOTHING;
      const { fate, why, held, candidates } = judge(source, read, all, settings, use.use.event.index, sound, rivalIn);
      // What is switched off follows where it can, and is not missed where it cannot.
      if (!shown.has(use.use.event.index) && fate !== 'exchanged') return;
      const side = (item: Item | null, place: Place | null, name: string, range: FrameRange): ShotSide => ({ itemId: item?.id ?? null, place, name, range }); // prettier-ignore
      const range = read ?? { start: 0, end: 0 };
      shots.push({
        at: use.use.recordStart,
        use,
        source,
        held,
        row: {
          key: String(use.use.event.index),
          record: frameToTimecode(model.startFrame + Math.floor(use.use.recordStart), model.rate, model.dropFrame),
          track: [...use.use.nestedIn, use.use.trackName].join(' / '),
          name: use.use.event.name || use.clip.name,
          fate,
          why,
          before: source && side(source.item, source.link.place, source.name, range),
          after: held && side(held.item, held.item.place, held.item.place.path.split('/').at(-1)!, shifted(range, held)),
          chosen: held && heldKey(held),
          candidates: candidates.map((one) => ({
            key: heldKey(one.held),
            itemId: one.held.item.id,
            place: one.held.item.place,
            bytes: one.held.item.sizeBytes,
            by: one.held.by,
            misfits: one.misfits,
            range: shifted(range, one.held),
            modifiedMs: one.held.item.modifiedMs,
          })),
        },
      }); // prettier-ignore
    },
    wanted,
  );
  return shots.sort((a, b) => a.at - b.at);
}

/** The same range in the frames of an item. */
function shifted({ start, end }: FrameRange, { offset }: Held): FrameRange {
  return { start: start - offset, end: end - offset };
}

/** Candidates of a source, made once for all its events. */
function heldOf(
  known: Map<string, HeldAgainst>,
  source: ShotSource,
  clip: Clip,
  { among }: ExchangeSettings,
  from: Candidates,
  stock: StockView,
  sound: boolean,
): HeldAgainst {
  const key = `${clip.id} ${sound} ${source.link.place ? placeKey(source.link.place) : source.link.url}`;
  const own = known.get(key);
  if (own) return own;
  const linked =
    among === 'folder'
      ? []
      : clip.renditions
          .filter((rendition) => rendition.kind === among && !rendition.isSetBack && rendition !== sourceRendition(clip))
          .flatMap(({ links }) => links.slice(0, 1).flatMap(({ place }) => (place ? (stock.itemAt(place) ?? []) : [])));
  const made = heldAgainst(source, clip.name, from, linked, sound);
  known.set(key, made);
  return made;
}

interface Judged {
  readonly fate: ShotFate;
  readonly why: string;
  readonly held: Held | null;
  readonly candidates: readonly { readonly held: Held; readonly misfits: readonly string[] }[];
}

function judge(
  source: ShotSource | null,
  read: FrameRange | null,
  all: HeldAgainst,
  settings: ExchangeSettings,
  index: number,
  sound: boolean,
  rivalIn: RivalOf,
): Judged {
  const none = (fate: ShotFate, why: string, candidates: Judged['candidates'] = []): Judged => ({ fate, why, held: null, candidates });
  if (!source) return none('none', 'it reads no media');
  if (!read && source.facts.kind !== 'still') return none('unfit', 'the rate of its media is not known');
  const range = read ?? { start: 0, end: 1 };
  const near = all
    .reaching(range)
    .map((held) => {
      const lacking = lackingFrames(held, range);
      const isWhole = lacking >= range.end - range.start;
      const words = lacking === 0 || held.misfits.length > 0 ? [] : [isWhole ? 'none of its frames' : `${formatCount(lacking)} ${sound && source.facts.kind === 'audio' ? 'sample' : 'frame'}${oneOrMany(lacking, ' lacks', 's lack')}`]; // prettier-ignore
      return { held, lacking, misfits: [...held.misfits, ...words] };
    })
    // Of a reel of a whole day only what reaches into the shot is spoken of.
    .filter(({ held, lacking }) => held.by !== 'reel and timecode' || lacking < range.end - range.start)
    .sort((a, b) => a.misfits.length - b.misfits.length || HELD_BY.indexOf(a.held.by) - HELD_BY.indexOf(b.held.by) || a.lacking - b.lacking || b.held.item.modifiedMs - a.held.item.modifiedMs); // prettier-ignore
  const candidates = near.slice(0, MOST_CANDIDATES);
  if (candidates.length === 0 && settings.among === 'folder' && settings.place === null) return none('none', 'no folder is chosen yet');
  if (candidates.length === 0) return none('none', sound && source.facts.kind !== 'audio' ? 'nothing with sound' : 'nothing found');
  const fitting = near.filter(({ misfits }) => misfits.length === 0);
  const choice = settings.choices[String(index)];
  if (choice === null) return none('kept', 'left as it is', candidates);
  const chosen = fitting.find(({ held }) => heldKey(held) === choice);
  if (chosen) return { fate: 'exchanged', why: 'as you chose', held: chosen.held, candidates };
  const [first] = fitting;
  if (!first) {
    const [best] = near;
    return none(best!.held.misfits.length > 0 ? 'unfit' : 'lacks', best!.misfits.join(', '), candidates);
  }
  if (source.isCounted && !first.held.by.startsWith('reel') && first.held.by !== 'linked')
    return none('offered', 'its own timecode is only what the timeline counts', candidates);
  const best = fitting.filter(({ held }) => held.by === first.held.by);
  if (first.held.isOneOfTwo) return none('offered', 'its frame numbers may be timecode, or count from its first frame', candidates);
  // What is of another source as well is nobody's until somebody says so.
  const mine = best.filter(({ held }) => held.by === 'linked' || rivalIn(source, held) === null);
  const [only, ...more] = mine;
  if (!only) return none('offered', `it fits another source too: ${rivalIn(source, first.held)!.place.path}`, candidates);
  const isOneFolder = more.every(({ held }) => isBeside(held.item.place, only.held.item.place));
  if (more.length > 0 && (!settings.newest || !isOneFolder))
    return none('offered', `${mine.length} files fit${isOneFolder ? '' : ', in several folders'}`, candidates);
  return { fate: 'exchanged', why: only.held.by, held: only.held, candidates };
} // prettier-ignore

function isBeside(a: Place, b: Place): boolean {
  return a.shelfId === b.shelfId && folderOf(a.path) === folderOf(b.path);
}

function changeOf(timelineId: string, shots: readonly Shot[], name: string, keptAs: string | null): ExchangeChange {
  const media: ExchangedMedia[] = [];
  const numbers = new Map<string, number>();
  const events = shots.map(({ use, held, source }): ExchangeChange['events'][number] => {
    const { place, fingerprint } = held!.item;
    const key = `${use.clip.id} ${placeKey(place)}`;
    const number = numbers.get(key) ?? media.push({ place, fingerprint, clipId: use.clip.id, ...(source?.rate ? { rate: source.rate } : {}) }) - 1;
    numbers.set(key, number);
    // For counting, it is a part of the source.
    const facts = { ...source!.facts, durationFrames: source!.facts.durationFrames ?? 0 };
    const available = source!.facts.kind === 'still' ? null : countedRange(facts, spanOf(held!), use, use.use.rate);
    return [use.use.event.index, number, available];
  });
  return { type: 'exchange', timelineId, name, keptAs, media, events };
}

/** Of files with a burn-in, and of a place that is not there to be looked at. */
function warningsOf(shots: readonly Shot[], snapshot: Snapshot, { among, place }: ExchangeSettings): Finding[] {
  const burned = new Set(snapshot.clips.flatMap(({ renditions }) => renditions.flatMap(({ made, links }) => (made?.burnIn ? links.flatMap((link) => (link.place ? [placeKey(link.place)] : [])) : [])))); // prettier-ignore
  const names = shots.flatMap(({ row, held }) =>
    row.fate === 'exchanged' && held && burned.has(placeKey(held.item.place)) ? [row.after!.name] : [],
  );
  const shelf = among === 'folder' && place ? snapshot.shelves.find(({ id }) => id === place.shelfId) : undefined;
  return [
    ...(names.length > 0 ? [warns('burn-in', `${fewNames([...new Set(names)])} ${new Set(names).size === 1 ? 'has' : 'have'} a burn-in.`, 'Use clean files for finishing; the mark goes with them.')] : []), // prettier-ignore
    ...(shelf && !shelf.attached ? [warns('unplugged', `${shelf.name} is unplugged: its files are listed as they were when it was last looked through.`, 'Plug it in to see whether they are still there.')] : []), // prettier-ignore
  ];
}

function findingsOf(shots: readonly Shot[], settings: ExchangeSettings, isChosen: boolean): Finding[] {
  if (!isChosen) return [asks('no-timeline', 'No timeline is chosen.', 'Choose the one that is to read other pictures.')];
  const findings: Finding[] = [];
  if (settings.among === 'folder' && settings.place === null) findings.push(asks('no-folder', 'No folder is chosen.', 'Choose the shelf or folder in which they lie.')); // prettier-ignore
  const eight = shots.filter(({ row, held, source }) => row.fate === 'exchanged' && (source?.facts.video?.bitDepth ?? 0) > 8 && (held?.item.facts.video?.bitDepth ?? 99) <= 8); // prettier-ignore
  if (eight.length > 0) findings.push(warns('eight-bit', `${plural(eight.length, 'event gets', 'events get')} pictures of 8 bits where they had more.`, 'Colours may band: ask for 10 bits.')); // prettier-ignore
  const smaller = shots.filter(({ row, held, source }) => row.fate === 'exchanged' && (source?.facts.video?.height ?? 0) > (held?.item.facts.video?.height ?? 0)); // prettier-ignore
  if (smaller.length > 0) findings.push(warns('smaller', `${plural(smaller.length, 'event gets', 'events get')} a picture of fewer lines.`, 'See that they are no light copies.')); // prettier-ignore
  const open = shots.filter(({ row }) => ['offered', 'lacks', 'unfit', 'none'].includes(row.fate)).length;
  if (open > 0 && shots.some(({ row }) => row.fate === 'exchanged'))
    findings.push(notes('some-stay', `${formatCount(open)} of the events ${oneOrMany(open, 'reads', 'read')} what ${oneOrMany(open, 'it', 'they')} read before.`, 'The list says why, event by event.')); // prettier-ignore
  if (settings.what === 'picture') findings.push(notes('sound-stays', 'Sound stays as it is.'));
  return findings;
}
