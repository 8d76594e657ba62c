import Joi from 'joi';
import { folderNameForm, placeForm } from '../../forms/atoms';
import type { Place } from '../../media/item';
import { RENDITION_KINDS, type RenditionKind } from '../../rendition/read-order';
import { clipScopeForm, type ClipScope } from '../taking/clip-scope';

/** What becomes of one kind of rendition. */
export interface TakeRow {
  readonly isTaken: boolean;
  readonly destination: Place | null;
  readonly folderName: string;
}

export interface TakeAlongSettings {
  readonly scope: ClipScope;
  readonly rows: Readonly<Record<RenditionKind, TakeRow>>;
  /** Folders as where it comes from, by reel, or by clip. */
  readonly layout: 'sources' | 'reel' | 'clip';
}

const rowForm = Joi.object<TakeRow>({
  isTaken: Joi.boolean().required(),
  destination: placeForm.allow(null).required(),
  folderName: folderNameForm.required(),
});

export const takeAlongForm = Joi.object<TakeAlongSettings>({
  scope: clipScopeForm.required(),
  rows: Joi.object(Object.fromEntries(RENDITION_KINDS.map((kind) => [kind, rowForm.required()]))).required(),
  layout: Joi.string().valid('sources', 'reel', 'clip').required(),
});
