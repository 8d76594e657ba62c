/** Clips as lists tell of them: their links, how each is known again, and what stands there. */
import { fileName, type ItemKind, type Place } from '../../core/media/item';
import type { Expected, KnownClip, KnownItem, RenditionKind } from '../../core/project/clip';

export interface LineLink {
  readonly place: Place | null;
  readonly url: string;
  readonly expected: Pick<Expected, 'name' | 'fingerprint' | 'sizeBytes' | 'kind'>;
  readonly item: LineItem | null;
  /** Where it is linked, while a copy is read in its stead. */
  readonly linkedAt?: Place;
  readonly isChosen: boolean;
  /** Of what is read elsewhere: whether it stands where it is linked too. */
  readonly isHomeStanding?: boolean;
  /** Of that: whether nothing stands there, as far as the last stocktake saw. */
  readonly isHomeGone?: boolean;
  /** Equal for equal bytes; null where not every byte was ever read. */
  readonly content: string | null;
  /** Names it has, had and came with. */
  readonly names: string;
  /** Where files of the same bytes stand beside it; absent where there are none. */
  readonly copies?: readonly LineCopy[];
}

export type LineItem = KnownItem & { readonly id: string };

export interface LineCopy {
  readonly place: Place;
  readonly item: LineItem;
  /** Name it had before a sort gave it another; empty where it has that. */
  readonly cameAs: string;
}

export interface ClipLine extends KnownClip<LineLink> {
  readonly id: string;
  /** Files that hold some frames of its source. */
  readonly parts: readonly { readonly links: readonly LineLink[] }[];
  readonly partCopies: readonly { readonly kind: RenditionKind; readonly links: readonly LineLink[] }[];
  readonly name: string;
  readonly binPath: string;
  readonly note: string;
}

/** A link of a rendition of a clip; the columns as Clips.lines asks for them. */
export type RawLine = [
  id: string,
  name: string,
  binPath: string,
  setAside: number,
  note: string,
  rendition: number | null,
  renditionKind: RenditionKind,
  setBack: number,
  position: number | null,
  shelfId: string | null,
  path: string | null,
  url: string,
  expectedName: string | null,
  expectedPrint: string | null,
  expectedSize: number | null,
  expectedKind: ItemKind | null,
  itemId: string | null,
  itemSize: number,
  itemPrint: string | null,
  itemContent: string | null,
  itemKind: ItemKind,
  channels: number,
  chosen: number,
  content: string | null,
  /** Names that the timelines tell, as a list in JSON, and the one before a sort. */
  told: string | null,
  cameAs: string | null,
  damage: string | null,
  isPart: number,
];

/** A copy of a link, by the rendition's row and the position in it. */
export type RawCopy = [
  rendition: number,
  position: number,
  shelfId: string,
  path: string,
  itemId: string,
  itemSize: number,
  itemPrint: string | null,
  itemContent: string | null,
  itemKind: ItemKind,
  channels: number,
  cameAs: string | null,
  damage: string | null,
];

function copiesByLink(raw: readonly RawCopy[]): Map<string, LineCopy[]> {
  const out = new Map<string, LineCopy[]>();
  for (const [rendition, position, shelfId, path, id, size, print, content, kind, channels, cameAs, damage] of raw) {
    const copy = { place: { shelfId, path }, item: lineItem(id, size, print, content, kind, channels, damage), cameAs: cameAs ?? '' };
    const key = `${rendition} ${position}`;
    const own = out.get(key);
    if (own) own.push(copy);
    else out.set(key, [copy]);
  }
  return out;
}

function lineItem(
  id: string,
  sizeBytes: number,
  fingerprint: string | null,
  content: string | null,
  kind: ItemKind,
  channels: number,
  damage: string | null,
): LineItem {
  return { id, sizeBytes, fingerprint, content, ...(damage === null ? {} : { damage }), facts: { kind, audio: { length: channels > 0 ? 1 : 0 } } };
}

interface Growing extends ClipLine {
  readonly renditions: { readonly kind: RenditionKind; readonly links: LineLink[]; readonly isSetBack?: true }[];
  readonly parts: { readonly links: LineLink[] }[];
  readonly partCopies: { readonly kind: RenditionKind; readonly links: LineLink[] }[];
}

/** Rows of one clip follow each other, and in them those of one rendition. */
export function clipLines(rows: readonly RawLine[], copies: readonly RawCopy[]): ClipLine[] {
  const byLink = copiesByLink(copies);
  const lines: Growing[] = [];
  let rendition: number | null = null;
  for (const row of rows) {
    const [id, name, binPath, setAside, note, own, kind, setBack, position] = row;
    if (lines.at(-1)?.id !== id) {
      lines.push({ id, name, binPath, note, setAside: setAside === 1, renditions: [], parts: [], partCopies: [] });
      rendition = null;
    }
    if (own === null) continue;
    const isPart = row.at(-1) === 1;
    const { renditions, parts, partCopies } = lines.at(-1)!;
    const list: { kind?: RenditionKind; links: LineLink[] }[] = !isPart ? renditions : kind === 'source' ? parts : partCopies;
    if (own !== rendition && isPart) list.push({ kind, links: [] });
    else if (own !== rendition) renditions.push({ kind, links: [], ...(setBack === 1 ? { isSetBack: true } : {}) });
    rendition = own;
    if (position !== null) list.at(-1)!.links.push(linkOf(row, byLink.get(`${own} ${position}`)));
  }
  return lines;
}

function linkOf(row: RawLine, copies: readonly LineCopy[] | undefined): LineLink {
  const [
    ,
    ,
    ,
    ,
    ,
    ,
    ,
    ,
    ,
    shelfId,
    path,
    url,
    name,
    fingerprint,
    sizeBytes,
    kind,
    itemId,
    itemSize,
    itemPrint,
    itemContent,
    itemKind,
    channels,
    chosen,
    content,
    told,
    cameAs,
    damage,
  ] = row;
  return {
    place: shelfId !== null && path !== null ? { shelfId, path } : null,
    url,
    expected: { name: name ?? '', fingerprint, sizeBytes, kind },
    item: itemId === null ? null : lineItem(itemId, itemSize, itemPrint, itemContent, itemKind, channels, damage),
    isChosen: chosen === 1,
    content,
    names: [path === null ? '' : fileName(path), name ?? '', cameAs ?? '', ...(told === null ? [] : (JSON.parse(told) as string[]))].join(' '),
    ...(copies ? { copies } : {}),
  };
}
