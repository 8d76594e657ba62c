/** What is written into the picture of a light copy, so that it is never taken for a clean one. */
import Joi from 'joi';

export const BURN_LINES = ['clip', 'timecode', 'reel', 'frame'] as const;
export type BurnLine = (typeof BURN_LINES)[number];

export interface BurnIn {
  readonly lines: readonly BurnLine[];
  readonly text: string;
  readonly where: 'top' | 'bottom';
  /** Of the letters, 0 to 1. */
  readonly opacity: number;
}

export const burnInForm = Joi.object<BurnIn>({
  lines: Joi.array()
    .items(Joi.string().valid(...BURN_LINES))
    .unique()
    .required(),
  text: Joi.string().allow('').max(120).required(),
  where: Joi.string().valid('top', 'bottom').required(),
  opacity: Joi.number().min(0.1).max(1).required(),
});

export function isEmpty({ lines, text }: BurnIn): boolean {
  return lines.length === 0 && text.trim() === '';
}
