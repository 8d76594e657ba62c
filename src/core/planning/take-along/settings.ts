import Joi from 'joi';
import { folderNameForm, placeForm } from '../../forms/atoms';
import type { Place } from '../../media/item';
import { RENDITION_KINDS, type RenditionKind } from '../../rendition/read-order';
import { clipScopeForm, type ClipScope } from '../taking/clip-scope';

/** What becomes of one kind of rendition. */
export interface TakeRow {
  readonly isTaken: boolean;
  /** Null: where the kind is at home. */
  readonly destination: Place | null;
  readonly folderName: string;
}

/** The best that fits on a drive for some days, instead of whole kinds. */
export interface Trip {
  readonly destination: Place | null;
  readonly folderName: string;
  readonly days: number;
  /** Room that each day there takes for other things; null: a hundredth of the drive. */
  readonly dayBytes: number | null;
  /** Of the drive at most so much; null: all that is free. */
  readonly mostBytes: number | null;
}

export interface TakeAlongSettings {
  readonly scope: ClipScope;
  readonly rows: Readonly<Record<RenditionKind, TakeRow>>;
  /** Null: what the rows say. */
  readonly trip: Trip | null;
  /** Folders as where it comes from, by reel, or by clip. */
  readonly layout: 'sources' | 'reel' | 'clip';
  /** Where the kinds go is their home from then on. */
  readonly asHome: boolean;
}

const rowForm = Joi.object<TakeRow>({
  isTaken: Joi.boolean().required(),
  destination: placeForm.allow(null).required(),
  folderName: folderNameForm.required(),
});

const bytesForm = Joi.number().integer().min(0).max(Number.MAX_SAFE_INTEGER);

const tripForm = Joi.object<Trip>({
  destination: placeForm.allow(null).required(),
  folderName: folderNameForm.required(),
  days: Joi.number().integer().min(0).max(365).required().messages({
    'number.base': 'Type a number of days.',
    'number.integer': 'Type whole days.',
    'number.min': 'Type a number of days from 0.',
    'number.max': 'A trip has at most {#limit} days.',
  }),
  dayBytes: bytesForm.allow(null).required(),
  mostBytes: bytesForm.allow(null).required(),
});

export const takeAlongForm = Joi.object<TakeAlongSettings>({
  scope: clipScopeForm.required(),
  rows: Joi.object(Object.fromEntries(RENDITION_KINDS.map((kind) => [kind, rowForm.required()]))).required(),
  trip: tripForm.allow(null).default(null),
  layout: Joi.string().valid('sources', 'reel', 'clip').required(),
  asHome: Joi.boolean().default(false),
});
