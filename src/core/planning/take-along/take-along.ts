/** Take along: the files of chosen renditions copied to a shelf each, and read from there by their clips afterwards. */
import { isPlaceWithin } from '../../naming/within';
import { below, placeKey, type Place } from '../../media/item';
import { latestOf, renditionState, shownOf, sourceRendition, type Clip } from '../../project/clip';
import { isOwnProxy } from '../../rendition/fits';
import { atHome, rootOf } from '../../rendition/homes';
import { presetFor } from '../../rendition/presets';
import { kindsRead, RENDITION_KINDS, type RenditionKind } from '../../rendition/read-order';
import { notes, warns, type Finding } from '../../words/finding';
import { formatBytes, formatCount, plural, oneOrMany } from '../../words/figures';
import { blockedBy, destinationProblem, hiddenProblem, shelfFills, type Blocking } from '../plan/destination';
import type { Plan } from '../plan/plan';
import type { Snapshot } from '../plan/snapshot';
import { linkStep, type CatalogueChange, type Step } from '../plan/step';
import { stockOf, type StockView } from '../plan/stock-view';
import { clipsInScope } from '../taking/clip-scope';
import { KIND_NOUNS, newHomes } from '../taking/homes';
import { Copies, type TakenLink } from './copies';
import type { TakeAlongSettings, TakeRow, Trip } from './settings';
import { driveOf, keptFree, packTrip, type Choice, type Taking, type TripSum } from './trip';

/** Links of clips point at the copies, once they stand there. */
export interface TakenAlong extends CatalogueChange {
  readonly type: 'taken-along';
  /** Folders that the copies stand below. */
  readonly bases: readonly Place[];
  readonly links: readonly TakenLink[];
}

export type TakeFate = 'copied' | 'there already' | 'lacks' | 'cannot' | 'no room';

/** One rendition of one clip. */
export interface TakeAlongRow {
  readonly key: string;
  readonly name: string;
  readonly kind: RenditionKind;
  readonly fate: TakeFate;
  readonly why: string;
  readonly place: Place | null;
  readonly bytes: number;
  /** What would have gone along, had there been room for it. */
  readonly insteadOf: RenditionKind | null;
}

/** One kind of rendition, over all clips of the scope. */
export interface KindSum {
  readonly kind: RenditionKind;
  /** Clips that have one, and those that have none. */
  readonly clips: number;
  readonly lacking: number;
  readonly files: number;
  readonly bytes: number;
  /** Where its files stand now, most first. */
  readonly stands: readonly { readonly shelfId: string; readonly files: number }[];
}

export interface TakeAlongDetail {
  readonly rows: readonly TakeAlongRow[];
  readonly kinds: readonly KindSum[];
  /** Clips without a proxy that can have one, and of them those that would lose more than 8 bits hold. */
  readonly lackingProxies: { readonly clips: number; readonly spoiled: number };
  /** Null where whole kinds are taken. */
  readonly trip: TripSum | null;
}

/** Where each kind goes: as its row says, to its home, or on a trip all of them to one drive. */
export function rowsOf({ rows, trip }: TakeAlongSettings, { homes }: Snapshot['project']): TakeAlongSettings['rows'] {
  const rowFor = (kind: RenditionKind): TakeRow =>
    trip
      ? { isTaken: true, destination: trip.destination && below(trip.destination, trip.folderName), folderName: KIND_NOUNS[kind] }
      : atHome(rows[kind], homes?.[kind]);
  return { source: rowFor('source'), mezzanine: rowFor('mezzanine'), proxy: rowFor('proxy'), finished: rowFor('finished') };
}

/** `standing`: by kind, paths below its destination that are taken. */
export function planTakeAlong(
  snapshot: Snapshot,
  wanted: TakeAlongSettings,
  standing: Readonly<Partial<Record<RenditionKind, readonly string[]>>> = {},
): Plan<TakeAlongDetail> {
  const settings = { ...wanted, rows: rowsOf(wanted, snapshot.project) };
  const { trip } = settings;
  const stock = stockOf(snapshot);
  const clips = clipsInScope(snapshot, settings.scope);
  const packed = trip && packTrip(snapshot, settings.scope, clips.map((clip) => ({ clip, options: optionsOf(clip, stock) })), trip); // prettier-ignore
  const takings = packed?.takings ?? RENDITION_KINDS.flatMap((kind) => clips.flatMap((clip) => takingsOf(clip, kind, settings, stock)));
  const copies = new Copies(snapshot, settings, standing);
  const shelf = trip?.destination ? { ...trip.destination, path: '' } : null;
  const all = [
    ...takings.map((taking) => rowOf(taking, settings.rows[taking.kind], shelf, stock, copies)),
    ...(packed?.left ?? []).map(({ clip, why }) => rowWithout(clip, 'source', why === 'no room' ? 'no room' : 'cannot', why)),
    ...(trip ? [] : lackingRows(clips, settings, stock)),
  ];
  const { steps: files, links, bases } = copies;
  const bytes = files.reduce((sum, { expectedBytes }) => sum + expectedBytes, 0);
  const taken = RENDITION_KINDS.filter((kind) => settings.rows[kind].isTaken);
  const rootFor = (kind: RenditionKind) => (settings.asHome && !trip && settings.rows[kind].isTaken ? rootOf(settings.rows[kind]) : null);
  const roots = { source: rootFor('source'), mezzanine: rootFor('mezzanine'), proxy: rootFor('proxy'), finished: rootFor('finished') };
  const homes = newHomes(snapshot, roots, 1);
  const link = linkStep<TakenAlong>(1, 'clips read the copies from then on', { type: 'taken-along', bases, links });
  const problem: Blocking | null =
    (trip && packed && tripProblem(trip, snapshot, packed.sum)) ??
    taken.map((kind) => problemOf(kind, settings.rows[kind], snapshot, files)).find((one) => one !== null) ??
    null;
  const nothing = whyNothing(taken.length, all);
  const count = (fate: TakeFate) => all.filter((row) => row.fate === fate).length;
  const tells = (label: string, many: number) => (many > 0 ? [{ label, text: formatCount(many) }] : []);
  const lackingProxies = lackingProxiesOf(clips, stock);
  const kinds = RENDITION_KINDS.map((kind) => sumOf(kind, clips, stock));
  const whole = packed?.sum.bestBytes ?? kinds.reduce((sum, own) => sum + (settings.rows[own.kind].isTaken ? own.bytes : 0), 0);
  const what = trip ? `the best that fits, for ${daysWords(trip.days)}` : taken.map((kind) => KIND_NOUNS[kind].toLowerCase()).join(', ') || 'nothing';
  return {
    kind: 'take-along',
    title: `Take along: ${what}`,
    projectId: snapshot.project.id,
    headline: { value: bytes, of: Math.max(bytes, whole), unit: 'bytes', words: 'to copy' },
    lines: [
      { label: 'Copied', files: files.length, bytes },
      ...(packed?.sum.room == null ? [] : [{ label: 'Room for it', text: formatBytes(packed.sum.room) }]),
      ...tells('There already', count('there already')),
      ...tells('Lighter than their best', packed?.sum.givenUp.clips ?? 0),
      ...tells('No room for', count('no room')),
      ...tells('Cannot be read now', count('cannot')),
      ...tells('Lacking', count('lacks')),
      { label: 'Checks after the run', text: 'every file read back' },
      { label: 'What is copied', text: 'stays where it is' },
    ],
    fills: shelfFills(files, snapshot.shelves),
    findings: [
      ...blockedBy(problem),
      ...(packed && !problem ? packed.findings : []),
      ...findingsOf(settings, all, lackingProxies),
      ...(problem || nothing ? [] : homes.findings),
    ],
    steps: problem || nothing ? [] : [...files, link, ...homes.steps],
    blocked: problem?.message ?? nothing,
    detail: { rows: all, kinds, lackingProxies, trip: packed?.sum ?? null },
  };
}

function daysWords(days: number): string {
  return plural(days, 'day');
}

function whyNothing(kinds: number, rows: readonly TakeAlongRow[]): string | null {
  if (kinds === 0) return 'Nothing is chosen to be taken along.';
  if (rows.some(({ fate }) => fate === 'copied')) return null;
  return rows.some(({ fate }) => fate === 'no room') ? 'There is no room for any of it.' : 'All of it stands there already, or cannot be read now.';
}

function tripProblem(trip: Trip, snapshot: Snapshot, { room, left }: TripSum): Blocking | null {
  if (trip.folderName.trim() === '') return { code: 'no-folder-name', message: 'The folder on the drive has no name.', hint: 'Type a name for it.' };
  const shelf = driveOf(trip, snapshot);
  // What stands there already needs no room.
  if (!shelf || room === null || room > 0 || left.clips === 0) return null;
  const why = trip.mostBytes === 0 ? 'none of it may be taken' : `${formatBytes(shelf.freeBytes ?? 0)} are free, and ${formatBytes(keptFree(trip, shelf))} stay so for ${daysWords(trip.days)}`; // prettier-ignore
  return { code: 'no-room', message: `${shelf.name} has no room for it: ${why}.`, hint: 'Take another drive, or keep less of it free.' };
}

/** What a clip can be read by on a trip, from what the project reads first on. */
function optionsOf(clip: Clip, stock: StockView): Choice[] {
  const found = kindsRead(stock.readOrder).flatMap((kind): Choice[] => {
    const own = kind === 'source' ? sourceRendition(clip) : latestOf(clip, kind, stock);
    const rendition = own ?? (kind === 'proxy' && isOwn(clip, stock) ? sourceRendition(clip) : null);
    return rendition && rendition.links.length > 0 && renditionState(rendition, stock) === 'present' ? [{ kind, clip, rendition }] : [];
  });
  return found.filter(({ rendition }, index) => found.findIndex((one) => one.rendition === rendition) === index);
}

/** Renditions of a clip of one kind: the one that is read of it, and of the proxies what needs none. */
function takingsOf(clip: Clip, kind: RenditionKind, { rows }: TakeAlongSettings, stock: StockView): Taking[] {
  if (!rows[kind].isTaken) return [];
  const own = kind === 'source' ? sourceRendition(clip) : shownOf(clip, kind, stock);
  if (own && own.links.length > 0) return [{ kind, clip, rendition: own, insteadOf: null }];
  const source = kind === 'proxy' && !rows.source.isTaken && isOwn(clip, stock) ? sourceRendition(clip) : null;
  return source ? [{ kind, clip, rendition: source, insteadOf: null }] : [];
}

/** Stills and sound are their own proxies. */
function isOwn(clip: Clip, stock: StockView): boolean {
  const links = sourceRendition(clip)?.links ?? [];
  return links.length > 0 && links.every(({ place, expected }) => isOwnProxy({ kind: (place ? stock.itemAt(place)?.facts.kind : null) ?? expected.kind ?? 'other', rate: expected.rate })); // prettier-ignore
}

function lacks(clip: Clip, kind: RenditionKind, stock: StockView): boolean {
  return shownOf(clip, kind, stock) === null && (kind === 'proxy' ? !isOwn(clip, stock) && sourceRendition(clip) !== null : false);
}

function lackingRows(clips: readonly Clip[], { rows }: TakeAlongSettings, stock: StockView): TakeAlongRow[] {
  const kinds = RENDITION_KINDS.filter((kind) => kind !== 'source' && rows[kind].isTaken);
  return kinds.flatMap((kind) => clips.filter((clip) => lacks(clip, kind, stock)).map((clip) => rowWithout(clip, kind, 'lacks', 'it has none')));
}

function rowWithout(clip: Clip, kind: RenditionKind, fate: TakeFate, why: string): TakeAlongRow {
  return { key: `${clip.id} ${kind}`, name: clip.name, kind, fate, why, place: null, bytes: 0, insteadOf: null };
}

/** `shelf`: anywhere on it is there already; null: only what stands below the folder of the row. */
function rowOf({ kind, clip, rendition, insteadOf }: Taking, row: TakeRow, shelf: Place | null, stock: StockView, copies: Copies): TakeAlongRow {
  const place = rendition.links[0]?.place ?? null;
  const told = (fate: TakeFate, why: string, bytes = 0) => ({ key: `${clip.id} ${kind}`, name: clip.name, kind, fate, why, place, bytes, insteadOf });
  const state = renditionState(rendition, stock);
  if (state !== 'present') return told('cannot', `it is ${state}`);
  const items = rendition.links.map((link) => stock.itemAt(link.place!)!);
  const root = shelf ?? rootOf(row);
  const away = items.map((item, position) => ({ item, position })).filter(({ item }) => !root || !isPlaceWithin(item.place, root));
  if (away.length === 0) return told('there already', '');
  for (const { item, position } of away) copies.take(kind, clip, rendition.id, position, item);
  const bytes = away.reduce((sum, { item }) => sum + item.sizeBytes, 0);
  return told('copied', '', bytes);
}

function problemOf(kind: RenditionKind, { destination, folderName }: TakeRow, { shelves }: Snapshot, files: readonly Step[]): Blocking | null {
  const shelfId = destination?.shelfId ?? '';
  if (folderName.trim() === '') return { code: 'no-folder-name', message: `The folder of the ${KIND_NOUNS[kind].toLowerCase()} has no name.`, hint: 'Type a name for it.' }; // prettier-ignore
  const needs = files.reduce((sum, step) => sum + (step.to?.shelfId === shelfId ? step.expectedBytes : 0), 0);
  return (
    (destination && hiddenProblem(below(destination, folderName).path)) ??
    destinationProblem(shelves, shelfId, needs, ', fewer clips or light copies alone')
  );
}

function sumOf(kind: RenditionKind, clips: readonly Clip[], stock: StockView): KindSum {
  const found = clips.flatMap((clip) => (kind === 'source' ? sourceRendition(clip) : shownOf(clip, kind, stock)) ?? []);
  const items = new Map(
    found.flatMap(({ links }) =>
      links.flatMap(({ place }) => {
        const item = place ? stock.itemAt(place) : null;
        return item ? [[placeKey(item.place), item] as const] : [];
      }),
    ),
  );
  const stands = new Map<string, number>();
  for (const { place } of items.values()) stands.set(place.shelfId, (stands.get(place.shelfId) ?? 0) + 1);
  return {
    kind,
    clips: found.length,
    lacking: clips.filter((clip) => lacks(clip, kind, stock)).length,
    files: items.size,
    bytes: [...items.values()].reduce((sum, { sizeBytes }) => sum + sizeBytes, 0),
    stands: [...stands].map(([shelfId, files]) => ({ shelfId, files })).sort((a, b) => b.files - a.files),
  };
}

/** Of the clips whose source is there to make one of. */
function lackingProxiesOf(clips: readonly Clip[], stock: StockView): TakeAlongDetail['lackingProxies'] {
  const own = clips.flatMap((clip) => {
    const source = lacks(clip, 'proxy', stock) ? sourceRendition(clip) : null;
    const item = source && renditionState(source, stock) === 'present' ? stock.itemAt(source.links[0]!.place!) : null;
    return item?.facts.video ? [item] : [];
  });
  return { clips: own.length, spoiled: own.filter(({ facts }) => presetFor('pocket', facts).why !== null).length };
}

function findingsOf(
  { rows, trip }: TakeAlongSettings,
  list: readonly TakeAlongRow[],
  { clips: lacking, spoiled }: TakeAlongDetail['lackingProxies'],
): Finding[] {
  const findings: Finding[] = [];
  const clips = (count: number) => plural(count, 'clip');
  if (rows.proxy.isTaken && lacking > 0)
    findings.push(warns('lacking-proxies', `${clips(lacking)} ${oneOrMany(lacking, 'has', 'have')} no proxy${spoiled > 0 ? `, of which ${formatCount(spoiled)} would lose colours or alpha in 8 bits` : ''}.`, `Make them first${trip ? ' to have more fit' : ''}: what cannot stand 8 bits gets a preset that keeps it.`)); // prettier-ignore
  const cannot = list.filter(({ fate }) => fate === 'cannot').length;
  if (cannot > 0) findings.push(warns('cannot-take', `${plural(cannot, 'cannot be read now and stays', 'cannot be read now and stay')} behind.`, 'Plug in their shelves, or relink them, then look again.')); // prettier-ignore
  if (list.some(({ fate }) => fate === 'copied')) findings.push(notes('reads-copies', 'Their clips read the copies then. What they read before stays where it is; an undo points back at it.')); // prettier-ignore
  return findings;
}
