/** Clips as lists tell of them: their links, how each is known again, and what stands there. */
import type { ItemKind, Place } from '../../core/media/item';
import type { Expected, KnownClip, KnownItem, RenditionKind } from '../../core/project/clip';

export interface LineLink {
  readonly place: Place | null;
  readonly url: string;
  readonly expected: Pick<Expected, 'name' | 'fingerprint' | 'sizeBytes' | 'kind'>;
  readonly item: (KnownItem & { readonly id: string }) | null;
}

export interface ClipLine extends KnownClip<LineLink> {
  readonly id: string;
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
  itemKind: ItemKind,
  channels: number,
];

interface Growing extends ClipLine {
  readonly renditions: { readonly kind: RenditionKind; readonly links: LineLink[]; readonly isSetBack?: true }[];
}

/** Rows of one clip follow each other, and in them those of one rendition. */
export function clipLines(rows: readonly RawLine[]): ClipLine[] {
  const lines: Growing[] = [];
  let rendition: number | null = null;
  for (const row of rows) {
    const [id, name, binPath, setAside, note, own, kind, setBack, position] = row;
    if (lines.at(-1)?.id !== id) {
      lines.push({ id, name, binPath, note, setAside: setAside === 1, renditions: [] });
      rendition = null;
    }
    const { renditions } = lines.at(-1)!;
    if (own === null) continue;
    if (own !== rendition) renditions.push({ kind, links: [], ...(setBack === 1 ? { isSetBack: true } : {}) });
    rendition = own;
    if (position !== null) renditions.at(-1)!.links.push(linkOf(row));
  }
  return lines;
}

function linkOf(row: RawLine): LineLink {
  const [, , , , , , , , , shelfId, path, url, name, fingerprint, sizeBytes, kind, itemId, itemSize, itemPrint, itemKind, channels] = row;
  return {
    place: shelfId !== null && path !== null ? { shelfId, path } : null,
    url,
    expected: { name: name ?? '', fingerprint, sizeBytes, kind },
    item:
      itemId === null
        ? null
        : { id: itemId, sizeBytes: itemSize, fingerprint: itemPrint, facts: { kind: itemKind, audio: { length: channels > 0 ? 1 : 0 } } },
  };
}
