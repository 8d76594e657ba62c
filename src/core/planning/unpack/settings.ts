import Joi from 'joi';
import { folderNameForm, placeForm } from '../../forms/atoms';
import type { Place } from '../../media/item';

export interface UnpackSettings {
  readonly bundle: Place;
  readonly destination: Place | null;
  readonly folderName: string;
}

export const unpackForm = Joi.object<UnpackSettings>({
  bundle: placeForm.required(),
  destination: placeForm.allow(null).required(),
  folderName: folderNameForm.required(),
});
