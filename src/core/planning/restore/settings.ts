import Joi from 'joi';
import { nameForm, placeForm } from '../../forms/atoms';
import type { Place } from '../../media/item';

export interface RestoreSettings {
  readonly crate: Place;
  /** Name of the new project; the one the crate states where it is null or blank. */
  readonly projectName: string | null;
}

export const restoreForm = Joi.object<RestoreSettings>({
  crate: placeForm.required(),
  projectName: nameForm.allow(null, '').required(),
});
