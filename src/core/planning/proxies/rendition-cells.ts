/** What a clip has of each kind of rendition, for the list. */
import type { Place } from '../../media/item';
import { renditionState, shownOf, type Clip, type FileState, type Rendition, type RenditionKind } from '../../project/clip';
import { fittingOf, isOlder, misfits } from '../../rendition/fits';
import { presetOf } from '../../rendition/presets';
import type { StockView } from '../plan/stock-view';

export interface RenditionCell {
  readonly state: FileState;
  readonly width: number;
  readonly height: number;
  /** Of all its files. */
  readonly bytes: number;
  readonly place: Place | null;
  /** What stands there; null where nothing does. */
  readonly itemId: string | null;
  /** By what it was made here; null: elsewhere. */
  readonly preset: string | null;
  readonly madeAt: string | null;
  readonly burnIn: boolean;
  readonly older: boolean;
  readonly misfits: readonly string[];
  /** Further ones of the kind behind it. */
  readonly more: number;
  /** Holds only a part of the source. */
  readonly ofParts?: true;
}

export type RenditionCells = Readonly<Record<RenditionKind, RenditionCell | null>>;

export function cellsOf(clip: Clip, stock: StockView): RenditionCells {
  const source = clip.renditions.find(({ kind }) => kind === 'source') ?? null;
  const cell = (kind: RenditionKind): RenditionCell | null => {
    const own = clip.renditions.filter((rendition) => rendition.kind === kind);
    const shown = shownOf(clip, kind, stock);
    if (shown) return { ...cellOf(shown, source, stock), more: own.length - 1 };
    // Of parts there are as many as the pull cut.
    const ofParts = (clip.partCopies ?? []).filter((rendition) => rendition.kind === kind);
    const first = ofParts.find((rendition) => renditionState(rendition, stock) === 'present') ?? ofParts[0];
    return first ? { ...cellOf(first, null, stock), more: ofParts.length - 1, ofParts: true } : null;
  };
  return { source: cell('source'), mezzanine: cell('mezzanine'), proxy: cell('proxy'), finished: cell('finished') };
}

function cellOf(rendition: Rendition, source: Rendition | null, stock: StockView): Omit<RenditionCell, 'more' | 'ofParts'> {
  const itemOf = (link: Rendition['links'][number] | undefined) => (link?.place ? stock.itemAt(link.place) : null);
  const item = itemOf(rendition.links[0]);
  const origin = rendition === source ? null : itemOf(source?.links[0]);
  return {
    state: renditionState(rendition, stock),
    width: item?.facts.video?.width ?? 0,
    height: item?.facts.video?.height ?? 0,
    bytes: rendition.links.reduce((sum, link) => sum + (itemOf(link)?.sizeBytes ?? 0), 0),
    place: rendition.links[0]?.place ?? null,
    itemId: item?.id ?? null,
    preset: rendition.made?.presetId ? presetOf(rendition.made.presetId).name : null,
    madeAt: rendition.made?.at ?? null,
    burnIn: rendition.made?.burnIn ?? false,
    older: item !== null && origin !== null && isOlder(origin, item, rendition.made ?? null),
    misfits: item && origin ? misfits(origin.facts, item.facts, fittingOf(rendition)) : [],
  };
}
