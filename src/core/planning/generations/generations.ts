/**
 * Generations of one kind of rendition, in the order in which they came: which is read now, and going back to an earlier
 * one, or on again. No file is touched: later ones stay where they are, set back.
 */
import { fileName, folderOf, type Item, type Place } from '../../media/item';
import { clipState, isOffline, latestOf, renditionRead, renditionState, sourceRendition, type Clip, type FileState, type LinkState, type Rendition } from '../../project/clip'; // prettier-ignore
import { presetOf } from '../../rendition/presets';
import { kindsRead } from '../../rendition/read-order';
import { sameRate } from '../../time/rate';
import { notes, warns, type Finding } from '../../words/finding';
import { formatCount, plural, oneOrMany } from '../../words/figures';
import type { Plan } from '../plan/plan';
import { shelfNameIn, type Snapshot } from '../plan/snapshot';
import { linkStep, type CatalogueChange } from '../plan/step';
import { stockOf, type StockView } from '../plan/stock-view';
import { clipsInScope } from '../taking/clip-scope';
import { KIND_NOUNS } from '../taking/homes';
import { NONE, type GenerationsSettings } from './settings';

/** Renditions that are not read any more, and those that are again. */
export interface GenerationsChange extends CatalogueChange {
  readonly type: 'generations';
  readonly back: readonly string[];
  readonly on: readonly string[];
}

/** What came together, or one after the other to the same folder without meeting in any clip: a set that is delivered in parts. */
export interface Generation {
  /** `with-` and the first run it came with; `before` for what came with timelines or by hand. */
  readonly key: string;
  /** Where it stands: the folder around all of it, or on how many shelves. */
  readonly name: string;
  readonly clips: number;
  /** Clips that read it now, and then. */
  readonly readNow: number;
  readonly readThen: number;
  readonly bytes: number;
  /** When the first of it came; null where that is not known. */
  readonly cameAt: string | null;
  readonly preset: string | null;
  readonly burnIn: boolean;
  /** Clips of which it does not stand there now. */
  readonly lacking: number;
}

/** One clip in one generation. */
export interface GenerationCell {
  readonly key: string;
  readonly state: FileState;
  readonly place: Place | null;
  readonly itemId: string | null;
  /** Frame of the item that shows the same picture as the others. */
  readonly frame: number;
  readonly height: number;
  readonly bytes: number;
}

export interface GenerationRow {
  readonly clipId: string;
  readonly name: string;
  readonly source: Omit<GenerationCell, 'key'> | null;
  readonly cells: readonly GenerationCell[];
  /** Key of the generation that is read of this kind; null: none. */
  readonly readsNow: string | null;
  readonly readsThen: string | null;
  /** Another kind comes first for it. */
  readonly isBehind: boolean;
  readonly now: LinkState;
  readonly then: LinkState;
}

export interface GenerationsDetail {
  /** In the order in which they came. */
  readonly generations: readonly Generation[];
  readonly rows: readonly GenerationRow[];
}

const BEFORE = 'before';

export function planGenerations(snapshot: Snapshot, { scope, rendition: kind, read }: GenerationsSettings): Plan<GenerationsDetail> {
  const stock = stockOf(snapshot);
  const ofKind = ({ renditions }: Clip) => renditions.filter((one) => one.kind === kind);
  const clips = clipsInScope(snapshot, scope).filter((clip) => ofKind(clip).length > 0);
  const keys = keysOf(clips, kind);
  const keyOf = (one: Rendition) => keys.get(runOf(one))!;
  const order = [...new Set(keys.values())];
  const wanted = read === null ? null : read === NONE ? -1 : order.indexOf(read);
  const isKnown = wanted === null || wanted >= 0 || read === NONE;
  const change = isKnown && wanted !== null ? changeOf(clips.flatMap(ofKind), (one) => order.indexOf(keyOf(one)) > wanted) : { back: [], on: [] };
  const after = changed(clips, change);
  const rows = clips.map((clip, index) => rowOf(clip, after[index]!, kind, keyOf, stock));
  const count = change.back.length + change.on.length;
  const blocked =
    clips.length === 0
      ? 'No clip of what is chosen has any.'
      : !isKnown
        ? 'That generation is not there any more.'
        : read === null
          ? 'Choose the one that is to be read.'
          : count === 0
            ? 'That is what is read already.'
            : null;
  const changing = rows.filter((row) => row.readsNow !== row.readsThen);
  return {
    kind: 'generations',
    title: `Read ${read === NONE ? `no ${KIND_NOUNS[kind].toLowerCase()}` : `another generation of the ${KIND_NOUNS[kind].toLowerCase()}`}`,
    projectId: snapshot.project.id,
    headline: { value: changing.length, of: rows.length, unit: 'clips', words: oneOrMany(changing.length, 'reads another', 'read another') },
    lines: [
      { label: 'Generations', text: formatCount(order.length) },
      { label: 'Set back', text: formatCount(change.back.length) },
      { label: 'Read again', text: formatCount(change.on.length) },
      { label: 'Files', text: 'stay where they are' },
    ],
    fills: [],
    findings: findingsOf(rows, kind, snapshot),
    steps: blocked === null ? [linkStep<GenerationsChange>(0, 'which generation is read', { type: 'generations', ...change })] : [],
    blocked,
    detail: {
      generations: order.map((key) =>
        generationOf(
          key,
          clips.flatMap(ofKind).filter((one) => keyOf(one) === key),
          rows,
          snapshot,
          stock,
        ),
      ),
      rows,
    },
  };
}

function runOf({ cameBy }: Rendition): number {
  return cameBy ?? 0;
}

interface Delivery {
  readonly clipIds: Set<string>;
  readonly about: string;
}

/** The folder on its shelf that it came to, and whether it is burned in. */
function aboutOf({ links, made }: Rendition): string {
  const place = links[0]?.place;
  return JSON.stringify([place?.shelfId, place?.path.split('/')[0], made?.burnIn ?? false]);
}

/** By run: key of its generation, in the order in which they came. */
function keysOf(clips: readonly Clip[], kind: Rendition['kind']): Map<number, string> {
  const runs = new Map<number, Delivery>();
  for (const clip of clips)
    for (const one of clip.renditions) {
      if (one.kind !== kind) continue;
      const own = runs.get(runOf(one)) ?? { clipIds: new Set(), about: aboutOf(one) };
      own.clipIds.add(clip.id);
      runs.set(runOf(one), own);
    }
  const keys = new Map<number, string>();
  let last: (Delivery & { readonly key: string }) | null = null;
  for (const [run, { clipIds, about }] of [...runs].sort(([a], [b]) => a - b)) {
    const goesOn: boolean = last !== null && last.key !== BEFORE && last.about === about && ![...clipIds].some((id) => last!.clipIds.has(id));
    if (!goesOn) last = { key: run === 0 ? BEFORE : `with-${run}`, clipIds: new Set(), about };
    for (const id of clipIds) last!.clipIds.add(id);
    keys.set(run, last!.key);
  }
  return keys;
}

/** What is later than wanted is set back, the rest is read again. */
function changeOf(renditions: readonly Rendition[], isLater: (one: Rendition) => boolean): Pick<GenerationsChange, 'back' | 'on'> {
  return {
    back: renditions.filter((one) => isLater(one) && !one.isSetBack).map(({ id }) => id),
    on: renditions.filter((one) => !isLater(one) && one.isSetBack).map(({ id }) => id),
  };
}

/** The clips as they would be. */
function changed(clips: readonly Clip[], { back, on }: Pick<GenerationsChange, 'back' | 'on'>): readonly Clip[] {
  const [goes, comes] = [new Set(back), new Set(on)];
  if (goes.size + comes.size === 0) return clips;
  return clips.map((clip) => ({
    ...clip,
    renditions: clip.renditions.map((one): Rendition => {
      if (goes.has(one.id)) return { ...one, isSetBack: true };
      if (!comes.has(one.id)) return one;
      const { isSetBack: _, ...rest } = one;
      return rest;
    }),
  }));
}

function rowOf(clip: Clip, then: Clip, kind: Rendition['kind'], keyOf: (one: Rendition) => string, stock: StockView): GenerationRow {
  const origin = sourceRendition(clip);
  const source = origin?.links[0]?.place ? stock.itemAt(origin.links[0].place) : null;
  const frame = Math.floor((source?.facts.durationFrames ?? origin?.links[0]?.expected.durationFrames ?? 0) / 2);
  const readOf = (own: Clip) => {
    const read = latestOf(own, kind, stock);
    return read && keyOf(read);
  };
  return {
    clipId: clip.id,
    name: clip.name,
    source: origin && cellOf(origin, source, frame, stock),
    cells: clip.renditions.filter((one) => one.kind === kind).map((one) => ({ key: keyOf(one), ...cellOf(one, source, frame, stock) })),
    readsNow: readOf(clip),
    readsThen: readOf(then),
    isBehind: readOf(then) !== null && renditionRead(then, stock)?.kind !== kind,
    now: clipState(clip, stock),
    then: clipState(then, stock),
  };
}

function cellOf(rendition: Rendition, source: Item | null, frame: number, stock: StockView): Omit<GenerationCell, 'key'> {
  const items = rendition.links.map(({ place }) => (place ? stock.itemAt(place) : null));
  const item = items[0] ?? null;
  return {
    state: renditionState(rendition, stock),
    place: rendition.links[0]?.place ?? null,
    itemId: item?.id ?? null,
    frame: item ? sameFrame(item, source, frame) : 0,
    height: item?.facts.video?.height ?? 0,
    bytes: items.reduce((sum, own) => sum + (own?.sizeBytes ?? 0), 0),
  };
}

/** Frame of an item that stands at the timecode of a frame of the source; of what has none, the same number. */
function sameFrame({ facts }: Item, source: Item | null, frame: number): number {
  const from = source?.facts;
  const isTold = from && from.startFrame !== null && facts.startFrame !== null && from.rate && facts.rate && sameRate(from.rate, facts.rate);
  const own = isTold ? from.startFrame + frame - facts.startFrame : frame;
  return Math.max(0, Math.min(own, (facts.durationFrames ?? 1) - 1));
}

function generationOf(key: string, own: readonly Rendition[], rows: readonly GenerationRow[], snapshot: Snapshot, stock: StockView): Generation {
  const cells = rows.flatMap((row) => row.cells.filter((cell) => cell.key === key));
  const made = own.flatMap((one) => one.made ?? []);
  const presets = new Set(made.map(({ presetId }) => presetId));
  const [presetId] = presets;
  return {
    key,
    name: standsIn(cells.flatMap(({ place }) => place ?? []), snapshot), // prettier-ignore
    clips: cells.length,
    readNow: rows.filter(({ readsNow }) => readsNow === key).length,
    readThen: rows.filter(({ readsThen }) => readsThen === key).length,
    bytes: cells.reduce((sum, { bytes }) => sum + bytes, 0),
    cameAt: made.map(({ at }) => at).sort()[0] ?? null,
    preset: presets.size === 1 && presetId ? presetOf(presetId).name : null,
    burnIn: made.some(({ burnIn }) => burnIn),
    lacking: own.filter((one) => renditionState(one, stock) !== 'present').length,
  };
}

/** The folder around all of these, as people say it. */
function standsIn(places: readonly Place[], snapshot: Snapshot): string {
  const shelves = [...new Set(places.map(({ shelfId }) => shelfId))];
  if (shelves.length === 0) return 'no file is known';
  if (shelves.length > 1) return `${formatCount(shelves.length)} shelves`;
  const common = places.map(({ path }) => folderOf(path).split('/')).reduce(shared);
  const folder = common.filter((name) => name !== '').join(' / ');
  const shelf = shelfNameIn(snapshot, shelves[0]!);
  return folder === '' ? (places.length === 1 ? `${shelf} / ${fileName(places[0]!.path)}` : shelf) : `${shelf} / ${folder}`;
}

function shared(a: readonly string[], b: readonly string[]): string[] {
  const differs = a.findIndex((name, index) => name !== b[index]);
  return a.slice(0, differs < 0 ? a.length : differs);
}

function findingsOf(rows: readonly GenerationRow[], kind: Rendition['kind'], { project }: Snapshot): Finding[] {
  const findings: Finding[] = [];
  const clips = (count: number) => plural(count, 'clip');
  const gone = rows.filter(({ now, then }) => isOffline(then) && !isOffline(now)).length;
  if (gone > 0) findings.push(warns('goes-offline', `${clips(gone)} would have nothing to read.`, 'Plug in what they would read, or choose another generation.')); // prettier-ignore
  const behind = rows.filter(({ isBehind }) => isBehind).length;
  if (behind > 0) findings.push(notes('something-first', `${clips(behind)} ${oneOrMany(behind, 'reads', 'read')} something that comes before ${KIND_NOUNS[kind].toLowerCase()} in the read order.`)); // prettier-ignore
  else if (project.readOrder && !kindsRead(project.readOrder).includes(kind)) findings.push(notes('behind-line', `${KIND_NOUNS[kind]} stand behind the line of the read order: none of them is read now.`)); // prettier-ignore
  return findings;
}
