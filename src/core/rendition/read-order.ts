/** Which rendition stands for a clip: kinds in order, and the line at which reading stops. */
import Joi from 'joi';

export type RenditionKind = 'source' | 'mezzanine' | 'proxy' | 'finished';
export const RENDITION_KINDS: readonly RenditionKind[] = ['finished', 'source', 'mezzanine', 'proxy'];

export interface ReadOrder {
  /** Each kind once. */
  readonly kinds: readonly RenditionKind[];
  /** How many of them, from the first on, are read; what lies behind them stands for no clip. From 1. */
  readonly stop: number;
}

/** The best picture first, a light copy where there is nothing else. */
export const READ_AT_FIRST: ReadOrder = { kinds: RENDITION_KINDS, stop: RENDITION_KINDS.length };

export const readOrderForm = Joi.object<ReadOrder>({
  kinds: Joi.array()
    .items(Joi.string().valid(...RENDITION_KINDS))
    .length(RENDITION_KINDS.length)
    .unique()
    .required(),
  stop: Joi.number().integer().min(1).max(RENDITION_KINDS.length).required(),
});

export function kindsRead({ kinds, stop }: ReadOrder): readonly RenditionKind[] {
  return kinds.slice(0, stop);
}

export function sameOrder(a: ReadOrder, b: ReadOrder): boolean {
  return a.stop === b.stop && a.kinds.every((kind, index) => kind === b.kinds[index]);
}

/** The line among the kinds, as they stand on the screen. */
export const STOP_LINE = 'line';
export type OrderMark = RenditionKind | typeof STOP_LINE;

export function marksOfOrder({ kinds, stop }: ReadOrder): OrderMark[] {
  return [...kinds.slice(0, stop), STOP_LINE, ...kinds.slice(stop)];
}
