/** Take along: the files of chosen renditions copied to a shelf each, and read from there by their clips afterwards. */
import { sequenceName } from '../../media/image-sequence';
import { below, fileName, folderOf, placeKey, type Item, type Place } from '../../media/item';
import { NameRegister, portableName, portablePrefix } from '../../naming/safe-name';
import { trimEndOf } from '../../naming/trim-end';
import { renditionState, sourceRendition, type Clip, type Rendition } from '../../project/clip';
import { isOwnProxy } from '../../rendition/fits';
import { RENDITION_KINDS, type RenditionKind } from '../../rendition/read-order';
import { presetFor } from '../../rendition/presets';
import { notes, warns, type Finding } from '../../words/finding';
import { formatCount } from '../../words/figures';
import { framesOf } from '../package/package-layout';
import { blockedBy, destinationProblem, hiddenProblem, shelfFills } from '../plan/destination';
import type { Plan } from '../plan/plan';
import { shelfNameIn, type Snapshot } from '../plan/snapshot';
import { linkStep, precondition, type CatalogueChange, type Step } from '../plan/step';
import { stockOf, type StockView } from '../plan/stock-view';
import { clipsInScope } from '../taking/clip-scope';
import type { TakeAlongSettings, TakeRow } from './settings';

/** Links of clips point at the copies, once they stand there. */
export interface TakenAlong extends CatalogueChange {
  readonly type: 'taken-along';
  /** Folders that the copies stand below. */
  readonly bases: readonly Place[];
  readonly links: readonly TakenLink[];
}

export interface TakenLink {
  readonly renditionId: string;
  readonly position: number;
  readonly from: Place;
  readonly to: Place;
}

export type TakeFate = 'copied' | 'there already' | 'lacks' | 'cannot';

/** One rendition of one clip. */
export interface TakeAlongRow {
  readonly key: string;
  readonly name: string;
  readonly kind: RenditionKind;
  readonly fate: TakeFate;
  readonly why: string;
  readonly place: Place | null;
  readonly bytes: number;
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
  readonly lackingProxies: { readonly clipIds: readonly string[]; readonly spoiled: number };
}

const NOUNS: Readonly<Record<RenditionKind, string>> = {
  source: 'Sources',
  mezzanine: 'Mezzanines',
  proxy: 'Proxies',
  finished: 'Finished pictures',
};

/** A rendition that is taken, under the kind that it is taken for: what is its own proxy goes with the proxies. */
interface Taking {
  readonly kind: RenditionKind;
  readonly clip: Clip;
  readonly rendition: Rendition;
}

/** `standing`: by kind, paths below its destination that are taken. */
export function planTakeAlong(
  snapshot: Snapshot,
  settings: TakeAlongSettings,
  standing: Readonly<Partial<Record<RenditionKind, readonly string[]>>> = {},
): Plan<TakeAlongDetail> {
  const stock = stockOf(snapshot);
  const clips = clipsInScope(snapshot, settings.scope);
  const takings = RENDITION_KINDS.flatMap((kind) => clips.flatMap((clip) => takingsOf(clip, kind, settings, stock)));
  const copies = new Copies(snapshot, settings, standing);
  const rows = takings.map((taking) => rowOf(taking, settings.rows[taking.kind], stock, copies));
  const lacking = RENDITION_KINDS.filter((kind) => kind !== 'source').flatMap((kind) =>
    settings.rows[kind].isTaken ? clips.filter((clip) => lacks(clip, kind, stock)).map((clip) => lackingRow(clip, kind)) : [],
  );
  const { steps: files, links, bases } = copies;
  const bytes = files.reduce((sum, { expectedBytes }) => sum + expectedBytes, 0);
  const link = linkStep<TakenAlong>(1, 'clips read the copies from then on', { type: 'taken-along', bases, links });
  const taken = RENDITION_KINDS.filter((kind) => settings.rows[kind].isTaken);
  const problem =
    taken.length === 0 ? null : (taken.map((kind) => problemOf(kind, settings.rows[kind], snapshot, files)).find((one) => one !== null) ?? null);
  const nothing =
    taken.length === 0
      ? 'Nothing is chosen to be taken along.'
      : files.length === 0
        ? 'All of it stands there already, or cannot be read now.'
        : null;
  const counted = (fate: TakeFate) => rows.filter((row) => row.fate === fate).length;
  const lackingProxies = lackingProxiesOf(clips, stock);
  const kinds = RENDITION_KINDS.map((kind) => sumOf(kind, clips, stock));
  return {
    kind: 'take-along',
    title: `Take along: ${taken.map((kind) => NOUNS[kind].toLowerCase()).join(', ') || 'nothing'}`,
    projectId: snapshot.project.id,
    headline: {
      value: bytes,
      of: Math.max(
        bytes,
        taken.reduce((sum, kind) => sum + kinds.find((own) => own.kind === kind)!.bytes, 0),
      ),
      unit: 'bytes',
      words: 'to copy',
    },
    lines: [
      { label: 'Copied', files: files.length, bytes },
      ...(counted('there already') > 0 ? [{ label: 'There already', text: formatCount(counted('there already')) }] : []),
      ...(counted('cannot') > 0 ? [{ label: 'Cannot be read now', text: formatCount(counted('cannot')) }] : []),
      ...(lacking.length > 0 ? [{ label: 'Lacking', text: formatCount(lacking.length) }] : []),
      { label: 'Checks after the run', text: 'every file read back' },
      { label: 'What is copied', text: 'stays where it is' },
    ],
    fills: shelfFills(files, snapshot.shelves),
    findings: [...blockedBy(problem), ...findingsOf(settings, rows, lackingProxies)],
    steps: problem || nothing ? [] : [...files, link],
    blocked: problem?.message ?? nothing,
    detail: { rows: [...rows, ...lacking], kinds, lackingProxies },
  };
}

/** Renditions of a clip of one kind: the one that is read of it, and of the proxies what needs none. */
function takingsOf(clip: Clip, kind: RenditionKind, { rows }: TakeAlongSettings, stock: StockView): Taking[] {
  if (!rows[kind].isTaken) return [];
  const own = kind === 'source' ? sourceRendition(clip) : shownOf(clip, kind, stock);
  if (own && own.links.length > 0) return [{ kind, clip, rendition: own }];
  const source = kind === 'proxy' && !rows.source.isTaken && isOwn(clip, stock) ? sourceRendition(clip) : null;
  return source ? [{ kind, clip, rendition: source }] : [];
}

/** The latest that stands there, else the latest. */
function shownOf(clip: Clip, kind: RenditionKind, stock: StockView): Rendition | null {
  const own = clip.renditions.filter((rendition) => rendition.kind === kind);
  return own.findLast((rendition) => renditionState(rendition, stock) === 'present') ?? own.at(-1) ?? null;
}

/** Stills and sound are their own proxies. */
function isOwn(clip: Clip, stock: StockView): boolean {
  const links = sourceRendition(clip)?.links ?? [];
  return links.length > 0 && links.every(({ place, expected }) => isOwnProxy({ kind: (place ? stock.itemAt(place)?.facts.kind : null) ?? expected.kind ?? 'other', rate: expected.rate })); // prettier-ignore
}

function lacks(clip: Clip, kind: RenditionKind, stock: StockView): boolean {
  return shownOf(clip, kind, stock) === null && (kind === 'proxy' ? !isOwn(clip, stock) && sourceRendition(clip) !== null : false);
}

function lackingRow(clip: Clip, kind: RenditionKind): TakeAlongRow {
  return { key: `${clip.id} ${kind}`, name: clip.name, kind, fate: 'lacks', why: 'it has none', place: null, bytes: 0 };
}

function rowOf({ kind, clip, rendition }: Taking, { destination, folderName }: TakeRow, stock: StockView, copies: Copies): TakeAlongRow {
  const row = (fate: TakeFate, why: string, bytes = 0): TakeAlongRow => ({
    key: `${clip.id} ${kind}`,
    name: clip.name,
    kind,
    fate,
    why,
    place: rendition.links[0]?.place ?? null,
    bytes,
  });
  const state = renditionState(rendition, stock);
  if (state !== 'present') return row('cannot', `it is ${state}`);
  const items = rendition.links.map(({ place }) => stock.itemAt(place!)!);
  const root = destination && below(destination, folderName);
  const away = items.map((item, position) => ({ item, position })).filter(({ item }) => !root || !isBelow(item.place, root));
  if (away.length === 0) return row('there already', '');
  for (const { item, position } of away) copies.take(kind, clip, rendition.id, position, item);
  return row(
    'copied',
    '',
    away.reduce((sum, { item }) => sum + item.sizeBytes, 0),
  );
}

function isBelow(place: Place, root: Place): boolean {
  return place.shelfId === root.shelfId && (root.path === '' || place.path.startsWith(`${root.path}/`));
}

/** The copies of a plan: each file once for a destination, however many clips read it. */
class Copies {
  readonly steps: Step[] = [];
  readonly links: TakenLink[] = [];
  private readonly names = new Map<string, NameRegister>();
  private readonly places = new Map<string, Place>();
  private readonly roots = new Map<string, Place>();

  constructor(
    private readonly snapshot: Snapshot,
    private readonly settings: TakeAlongSettings,
    private readonly standing: Readonly<Partial<Record<RenditionKind, readonly string[]>>>,
  ) {}

  get bases(): Place[] {
    return [...this.roots.values()];
  }

  take(kind: RenditionKind, clip: Clip, renditionId: string, position: number, item: Item): void {
    const { destination, folderName } = this.settings.rows[kind];
    const root = below(destination ?? { shelfId: '', path: '' }, folderName);
    this.roots.set(placeKey(root), root);
    // Once on a shelf is enough, whichever folder it came to first.
    const key = `${root.shelfId} ${placeKey(item.place)}`;
    const to = this.places.get(key) ?? this.copy(kind, clip, item, root);
    this.places.set(key, to);
    this.links.push({ renditionId, position, from: item.place, to });
  }

  /** Where the item stands then. */
  private copy(kind: RenditionKind, clip: Clip, item: Item, root: Place): Place {
    const names = this.names.get(placeKey(root)) ?? new NameRegister(this.standing[kind] ?? []);
    this.names.set(placeKey(root), names);
    const folder = this.folderFor(item, clip);
    const { sequence } = item.facts;
    const common = {
      phase: 0,
      from: item.place,
      expectedBytes: item.sizeBytes,
      bytesExact: true,
      reason: `${kind} of ${clip.name}`,
      mustHold: precondition(item),
    };
    if (!sequence) {
      const to = below(root, names.claim(folder, portableName(fileName(item.place.path))));
      this.steps.push({ ...common, action: 'copy', to });
      return to;
    }
    const label = fileName(folderOf(item.place.path)) || trimEndOf(sequence.prefix, /[._\- ]/) || 'frames';
    const to = below(root, names.claim(folder, portableName(label)));
    const { names: own, holds } = framesOf(sequence, this.snapshot.frames?.get(item.id) ?? null);
    const prefix = portablePrefix(sequence.prefix);
    const asNames = prefix === sequence.prefix ? {} : { asNames: own.map((name) => prefix + name.slice(sequence.prefix.length)) };
    this.steps.push({
      ...common,
      from: { ...item.place, path: folderOf(item.place.path) },
      action: 'frames',
      to,
      names: own,
      ...asNames,
      holds,
      sequence,
    });
    return below(to, sequenceName({ ...sequence, prefix }));
  }

  private folderFor({ place, facts }: Item, clip: Clip): string {
    const { layout } = this.settings;
    if (layout === 'reel') return portableName(facts.reel ?? 'no reel');
    if (layout === 'clip') return portableName(clip.name || 'unnamed');
    const folder = facts.sequence ? folderOf(folderOf(place.path)) : folderOf(place.path);
    return [shelfNameIn(this.snapshot, place.shelfId), ...folder.split('/')].filter((name) => name !== '').map(portableName).join('/'); // prettier-ignore
  }
}

function problemOf(kind: RenditionKind, { destination, folderName }: TakeRow, { shelves }: Snapshot, files: readonly Step[]) {
  const shelfId = destination?.shelfId ?? '';
  if (folderName.trim() === '') return { code: 'no-folder-name', message: `The folder of the ${NOUNS[kind].toLowerCase()} has no name.`, hint: 'Type a name for it.' }; // prettier-ignore
  const needs = files.reduce((sum, step) => sum + (step.to?.shelfId === shelfId ? step.expectedBytes : 0), 0);
  return (destination && hiddenProblem(below(destination, folderName).path)) ?? destinationProblem(shelves, shelfId, needs);
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
    return item?.facts.video ? [{ clip, item }] : [];
  });
  return { clipIds: own.map(({ clip }) => clip.id), spoiled: own.filter(({ item }) => presetFor('pocket', item.facts).why !== null).length };
}

function findingsOf({ rows }: TakeAlongSettings, list: readonly TakeAlongRow[], { clipIds, spoiled }: TakeAlongDetail['lackingProxies']): Finding[] {
  const findings: Finding[] = [];
  const clips = (count: number) => (count === 1 ? '1 clip' : `${formatCount(count)} clips`);
  if (rows.proxy.isTaken && clipIds.length > 0)
    findings.push(warns('lacking-proxies', `${clips(clipIds.length)} ${clipIds.length === 1 ? 'has' : 'have'} no proxy${spoiled > 0 ? `, of which ${formatCount(spoiled)} would lose colours or alpha in 8 bits` : ''}.`, 'Make them first: what cannot stand 8 bits gets a preset that keeps it.')); // prettier-ignore
  const cannot = list.filter(({ fate }) => fate === 'cannot').length;
  if (cannot > 0) findings.push(warns('cannot-take', `${formatCount(cannot)} ${cannot === 1 ? 'cannot be read now and stays' : 'cannot be read now and stay'} behind.`, 'Plug in their shelves, or relink them, then look again.')); // prettier-ignore
  if (list.some(({ fate }) => fate === 'copied')) findings.push(notes('reads-copies', 'Their clips read the copies then. What they read before stays where it is; an undo points back at it.')); // prettier-ignore
  return findings;
}
