import Joi from 'joi';
import { folderNameForm, placeForm } from '../../forms/atoms';
import type { Place } from '../../media/item';
import { usedMediaKeys, type UsedMediaSettings } from '../taking/settings';

export interface PullSettings extends UsedMediaSettings {
  readonly destination: Place | null;
  /** Folder made at the destination. */
  readonly folderName: string;
}

export const pullForm = Joi.object<PullSettings>({
  ...usedMediaKeys,
  destination: placeForm.allow(null).required(),
  folderName: folderNameForm.required(),
});
