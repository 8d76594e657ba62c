import Joi from 'joi';
import { placeForm, timelineIdsForm } from '../../forms/atoms';
import type { Place } from '../../media/item';

export interface DecodeSettings {
  /** The frames that timelines use, or all media below a folder: a card, a drive. */
  readonly scope: { readonly of: 'timelines'; readonly timelineIds: readonly string[] } | { readonly of: 'folder'; readonly place: Place };
  /** What was decoded before is decoded once more. */
  readonly again: boolean;
}

export const decodeForm = Joi.object<DecodeSettings>({
  scope: Joi.alternatives(
    Joi.object({ of: Joi.valid('timelines').required(), timelineIds: timelineIdsForm.required() }),
    Joi.object({ of: Joi.valid('folder').required(), place: placeForm.required() }),
  ).required(),
  again: Joi.boolean().required(),
});
