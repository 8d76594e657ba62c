/**
 * Finish check: whether every event of a timeline reads frames that may be delivered, or exactly where not. A plan with
 * nothing to do.
 */
import { fileName, type Item, type Place } from '../../media/item';
import {
  clipState,
  isOffline,
  linksReadOf,
  renditionRead,
  sourceRendition,
  sourceState,
  type Clip,
  type LinkState,
  type Rendition,
  type RenditionKind,
} from '../../project/clip';
import { activeReference } from '../../project/timeline';
import { forEachUse } from '../../project/usage';
import { isOlder } from '../../rendition/fits';
import { rateLabel, sameRate, type Rate } from '../../time/rate';
import { frameToTimecode } from '../../time/timecode';
import { asks, notes, type Finding } from '../../words/finding';
import { formatCount, oneOrMany } from '../../words/figures';
import type { Plan } from '../plan/plan';
import type { Snapshot } from '../plan/snapshot';
import { stockOf, type StockView } from '../plan/stock-view';
import { framesRead, type EventUse } from '../taking/event-use';
import { heldFor, lackingFrames, type Held } from '../taking/held';
import { shotSource } from '../taking/shot-source';
import { forEachEventUse } from '../taking/used-media';
import type { FinishSettings } from './settings';

export const FINISH_PROBLEMS = ['offline', 'unnamed', 'silent', 'proxy', 'burn-in', 'eight-bit', 'rate', 'frames', 'older'] as const;
export type FinishProblem = (typeof FINISH_PROBLEMS)[number];

export const PROBLEM_WORDS: Readonly<Record<FinishProblem, string>> = {
  // By the rule by which every figure counts: the state of the clip.
  offline: 'Offline',
  unnamed: 'No media named',
  silent: 'Its sound is away',
  proxy: 'A proxy',
  'burn-in': 'Burned in',
  'eight-bit': '8 bits instead of more',
  rate: 'Another rate',
  frames: 'Frames missing',
  older: 'Older than its source',
};

export interface FinishRow {
  /** By the order in which they stand on the timeline. */
  readonly key: string;
  /** Record timecode at which the event begins. */
  readonly record: string;
  readonly track: string;
  readonly name: string;
  readonly state: LinkState | 'made-here';
  readonly read: RenditionKind | null;
  readonly place: Place | null;
  readonly itemId: string | null;
  readonly problems: readonly { readonly is: FinishProblem; readonly words: string }[];
}

export interface FinishDetail {
  readonly rows: readonly FinishRow[];
  readonly counts: Readonly<Record<FinishProblem, number>>;
  readonly timeline: string;
}

export function planFinish(snapshot: Snapshot, { timelineId, countDisabled }: FinishSettings): Plan<FinishDetail> {
  const stock = stockOf(snapshot);
  const timeline = snapshot.timelines.find(({ id }) => id === timelineId);
  const rows = timeline ? rowsOf(snapshot, timeline.id, countDisabled, stock) : [];
  const ready = rows.filter(({ problems }) => problems.length === 0).length;
  const counts = Object.fromEntries(FINISH_PROBLEMS.map((is) => [is, rows.filter(({ problems }) => problems.some((own) => own.is === is)).length])) as FinishDetail['counts']; // prettier-ignore
  return {
    kind: 'finish',
    title: timeline ? `Finish check of ${timeline.model.name}` : 'Finish check',
    projectId: snapshot.project.id,
    headline: { value: ready, of: rows.length, unit: 'events', words: oneOrMany(ready, 'is ready', 'are ready') },
    lines: FINISH_PROBLEMS.map((is) => ({ label: PROBLEM_WORDS[is], text: counts[is] === 0 ? 'none' : formatCount(counts[is]) })),
    fills: [],
    findings: findingsOf(timeline !== undefined, rows),
    steps: [],
    blocked: timeline ? 'A check changes nothing.' : 'No timeline is chosen.',
    detail: { rows, counts, timeline: timeline?.model.name ?? '' },
  };
}

function rowsOf(snapshot: Snapshot, timelineId: string, countDisabled: boolean, stock: StockView): FinishRow[] {
  const { model } = snapshot.timelines.find(({ id }) => id === timelineId)!;
  const found: { at: number; row: Omit<FinishRow, 'key'> }[] = [];
  forEachEventUse(snapshot, [timelineId], countDisabled, (use) => {
    const { clip, named } = use;
    const sound = use.use.trackKind === 'audio';
    const rendition = sound ? soundRead(clip, stock) : renditionRead(clip, stock);
    const links = linksReadOf((rendition ?? sourceRendition(clip))?.links ?? [], sound, named, stock);
    const items = links.flatMap(({ place }) => (place ? (stock.itemAt(place) ?? []) : []));
    const record = frameToTimecode(model.startFrame + Math.floor(use.use.recordStart), model.rate, model.dropFrame);
    found.push({
      at: use.use.recordStart,
      row: {
        record,
        track: [...use.use.nestedIn, use.use.trackName].join(' / '),
        name: use.use.event.name || clip.name,
        state: clipState(clip, stock),
        read: rendition?.kind ?? null,
        place: links[0]?.place ?? null,
        itemId: items[0]?.id ?? null,
        problems: rendition ? problemsOf(use, clip, rendition, items, sound, model.rate, stock) : [unreadProblem(clipState(clip, stock))], // prettier-ignore
      },
    });
  });
  // What the editing tool makes itself needs no media; what names none cannot be told from that by anybody.
  const { clipIds } = snapshot.timelines.find(({ id }) => id === timelineId)!;
  forEachUse(model, { countDisabled }, ({ event, recordStart, nestedIn, trackName }) => {
    if ((clipIds[event.index] ?? null) !== null) return;
    const record = frameToTimecode(model.startFrame + Math.floor(recordStart), model.rate, model.dropFrame);
    const active = activeReference(event);
    const name = event.name || active?.makes || 'Unnamed';
    const problems = active?.kind === 'generator' ? [] : [{ is: 'unnamed' as const, words: active?.kind === 'unknown' ? 'its kind of media is not known here' : 'it names no media' }]; // prettier-ignore
    found.push({ at: recordStart, row: { record, track: [...nestedIn, trackName].join(' / '), name, state: 'made-here', read: null, place: null, itemId: null, problems } }); // prettier-ignore
  });
  return found.sort((a, b) => a.at - b.at).map(({ row }, index) => ({ key: String(index), ...row }));
}

/** Why nothing is read: offline is what its clip is; a copy without sound may stand for a clip whose sound nobody has. */
function unreadProblem(state: LinkState): FinishRow['problems'][number] {
  if (isOffline(state)) return { is: 'offline', words: `its media is ${state.replace('-', ' ')}` };
  return { is: 'silent', words: 'what is read has no sound, and its source is not here' };
}

/** Finished pictures and silent copies leave the sound to the source. */
function soundRead(clip: Clip, stock: StockView): Rendition | null {
  const read = renditionRead(clip, stock);
  const source = sourceRendition(clip);
  if (!read || read === source) return read;
  const isHeard = read.links.some(({ place }) => ((place ? stock.itemAt(place) : null)?.facts.audio.length ?? 0) > 0);
  return isHeard ? read : source && sourceState(clip, stock) === 'present' ? source : null;
}

function problemsOf(
  use: EventUse,
  clip: Clip,
  rendition: Rendition,
  items: readonly Item[],
  sound: boolean,
  rate: Rate,
  stock: StockView,
): FinishRow['problems'] {
  // prettier-ignore
  const problems: FinishRow['problems'][number][] = [];
  if (rendition.kind === 'proxy') problems.push({ is: 'proxy', words: 'a light copy is read' });
  if (rendition.made?.burnIn && !sound) problems.push({ is: 'burn-in', words: 'letters are burned into it' });
  const source = sourceRendition(clip);
  const origin = source && source !== rendition ? originOf(source, stock) : null;
  for (const item of items) {
    const { facts } = item;
    const depth = facts.video?.bitDepth ?? 0;
    const wanted = origin?.facts.video?.bitDepth ?? 0;
    const before = rendition === source ? (source.made?.insteadOfDepth ?? 0) : 0;
    if (!sound && depth > 0 && depth <= 8 && before > 8) problems.push({ is: 'eight-bit', words: `8 bits, what it took the place of has ${before}` });
    if (!sound && rendition !== source && depth > 0 && depth <= 8 && (wanted > 8 || (origin === null && rendition.kind !== 'finished')))
      problems.push({ is: 'eight-bit', words: wanted > 8 ? `8 bits, its source has ${wanted}` : '8 bits, its source is not known' });
    if (!sound && facts.kind !== 'still' && facts.kind !== 'audio' && facts.rate && !sameRate(facts.rate, rate))
      problems.push({ is: 'rate', words: `${rateLabel(facts.rate)} on a timeline of ${rateLabel(rate)}` });
    if (origin && !sound && isOlder(origin, item, rendition.made ?? null)) problems.push({ is: 'older', words: 'its source was changed since' });
    const lacking = lackingOf(use, item, rendition === source, stock);
    if (lacking > 0) problems.push({ is: 'frames', words: `${formatCount(lacking)} ${facts.kind === 'audio' ? 'sample' : 'frame'}${oneOrMany(lacking, '', 's')} beyond ${fileName(item.place.path)}` }); // prettier-ignore
  }
  return problems;
}

/** Frames that the event reads and that the item lacks, holes of a sequence included; where it may be read in two ways, the worse. */
function lackingOf(use: EventUse, item: Item, isSource: boolean, stock: StockView): number {
  const { facts } = item;
  if (facts.kind === 'still' || facts.durationFrames === null) return 0;
  const own: Pick<Held, 'item' | 'offset'> = { item, offset: 0 };
  const source = isSource ? null : shotSource(use, stock);
  const readings = source && !source.isCounted ? heldFor(item, source, true, true) : [];
  // At another rate it is counted by time.
  if (!source || readings.length === 0 || !sameRate(readRate(facts, use), readRate(source.facts, use)))
    return lackingFrames(own, framesRead(use, facts));
  const read = framesRead(use, source.facts);
  return Math.max(...readings.map((held) => lackingFrames(held, read)));
}

function readRate({ rate }: Pick<Item['facts'], 'rate'>, { use }: EventUse): Rate {
  return rate ?? use.rate;
}

function originOf({ links }: Rendition, stock: StockView): Item | null {
  const place = links[0]?.place;
  return place ? stock.itemAt(place) : null;
}

function findingsOf(isChosen: boolean, rows: readonly FinishRow[]): Finding[] {
  if (!isChosen) return [asks('no-timeline', 'No timeline is chosen.', 'Choose the one that is to be delivered.')];
  if (rows.length === 0) return [notes('nothing-read', 'No event of it reads media.')];
  return [notes('what-is-checked', 'Looked at: what each event reads in the order of the project, by what the last stocktake saw. Pictures are not looked into.')]; // prettier-ignore
}
