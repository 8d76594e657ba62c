import Joi from 'joi';
import { nameForm, noteForm, placeForm } from '../../forms/atoms';
import type { Place } from '../../media/item';
import { usedMediaKeys, type UsedMediaSettings } from '../taking/settings';

export interface CrateSettings extends UsedMediaSettings {
  readonly destination: Place | null;
  readonly crateName: string;
  readonly note: string;
}

export const crateForm = Joi.object<CrateSettings>({
  ...usedMediaKeys,
  destination: placeForm.allow(null).required(),
  crateName: nameForm.allow('').required(),
  note: noteForm(2000).required(),
});
