import Joi from 'joi';
import { folderNameForm, idForm, placeForm, timelineIdsForm } from '../../forms/atoms';
import type { Place } from '../../media/item';
import { burnInForm, type BurnIn } from '../../rendition/burn-in';
import { pictureSizeForm, type PictureSize } from '../../rendition/picture-size';
import { readOrderForm, type ReadOrder } from '../../rendition/read-order';
import { PRESET_IDS, type PresetId } from '../../rendition/presets';

export type ProxyScope =
  | { readonly of: 'project' }
  /** A bin with all in it. */
  | { readonly of: 'bin'; readonly path: string }
  | { readonly of: 'timelines'; readonly timelineIds: readonly string[] }
  | { readonly of: 'clips'; readonly clipIds: readonly string[] };

export interface ProxySettings {
  readonly scope: ProxyScope;
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
  scope: Joi.alternatives(
    Joi.object({ of: Joi.valid('project').required() }),
    Joi.object({ of: Joi.valid('bin').required(), path: Joi.string().allow('').max(6_500).required() }),
    Joi.object({ of: Joi.valid('timelines').required(), timelineIds: timelineIdsForm.required() }),
    Joi.object({ of: Joi.valid('clips').required(), clipIds: Joi.array().items(idForm).max(100_000).required() }),
  ).required(),
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
