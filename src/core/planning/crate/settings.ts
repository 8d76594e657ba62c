import Joi from 'joi';
import { nameForm, noteForm, placeForm } from '../../forms/atoms';
import { aboutForm, type CrateAbout } from './crate-about';
import type { Place } from '../../media/item';
import { usedMediaKeys, type UsedMediaSettings } from '../taking/settings';

export interface CrateSettings extends UsedMediaSettings {
  readonly destination: Place | null;
  readonly crateName: string;
  readonly note: string;
  readonly about?: CrateAbout;
  /** Folders of this house are named in the timelines and the report; absent: they are left out. */
  readonly keepPaths?: boolean;
}

export const crateForm = Joi.object<CrateSettings>({
  ...usedMediaKeys,
  destination: placeForm.allow(null).required(),
  crateName: nameForm.allow('').required(),
  note: noteForm(2000).required(),
  about: aboutForm,
  keepPaths: Joi.boolean(),
});
