import Joi from 'joi';
import { folderNameForm, idForm, placeForm } from '../../forms/atoms';
import type { Place } from '../../media/item';
import { burnInForm, type BurnIn } from '../../rendition/burn-in';
import { pictureSizeForm, type PictureSize } from '../../rendition/picture-size';
import { readOrderForm, type ReadOrder } from '../../rendition/read-order';
import { PRESET_IDS, type PresetId } from '../../rendition/presets';
import { clipScopeForm, type ClipScope } from '../taking/clip-scope';

export interface ProxySettings {
  readonly scope: ClipScope;
  readonly presetId: PresetId;
  readonly size: PictureSize;
  /** Only where none exists, or the one there is does not fit any more. */
  readonly onlyLacking: boolean;
  readonly burnIn: BurnIn | null;
  readonly destination: Place | null;
  readonly folderName: string;
  /** Folders as their sources', by reel, or none. */
  readonly layout: 'sources' | 'reel' | 'flat';
  /** Shelves that stay at home: what would be read then is told, and nothing is done to them. */
  readonly leave: readonly string[];
  /** Read order that is tried out, told like what is left behind; null for the project's own. */
  readonly order: ReadOrder | null;
}

export const proxyForm = Joi.object<ProxySettings>({
  scope: clipScopeForm.required(),
  presetId: Joi.string()
    .valid(...PRESET_IDS)
    .required(),
  size: pictureSizeForm.required(),
  onlyLacking: Joi.boolean().required(),
  burnIn: burnInForm.allow(null).required(),
  destination: placeForm.allow(null).required(),
  folderName: folderNameForm.required(),
  layout: Joi.string().valid('sources', 'reel', 'flat').required(),
  leave: Joi.array().items(idForm).unique().max(1_000).required(),
  order: readOrderForm.allow(null).default(null),
});
