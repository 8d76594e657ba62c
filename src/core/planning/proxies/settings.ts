import Joi from 'joi';
import { folderNameForm, idForm, placeForm } from '../../forms/atoms';
import type { Place } from '../../media/item';
import { burnInForm, type BurnIn } from '../../rendition/burn-in';
import { pictureSizeForm, type PictureSize } from '../../rendition/picture-size';
import { readOrderForm, type ReadOrder } from '../../rendition/read-order';
import { PRESET_IDS, QUALITY_STEPS, type PresetId } from '../../rendition/presets';
import { SOUND_WISHES, type SoundWish } from '../../rendition/recipe';
import { clipScopeForm, type ClipScope } from '../taking/clip-scope';

export interface ProxySettings {
  readonly scope: ClipScope;
  readonly presetId: PresetId;
  readonly size: PictureSize;
  /** Steps better or smaller than the preset. */
  readonly quality: number;
  readonly sound: SoundWish;
  /** Graphics with alpha are their own proxies, like stills. */
  readonly alphaIsOwn: boolean;
  /** Pictures that are missing in a sequence say so; otherwise the one before each stands in its place. */
  readonly slates: boolean;
  /** Of sources that are not here, of the parts that are. */
  readonly parts: boolean;
  /** Only where none exists, or the one there is does not fit any more. */
  readonly onlyLacking: boolean;
  readonly burnIn: BurnIn | null;
  /** Null: where their kind is at home. */
  readonly destination: Place | null;
  readonly folderName: string;
  /** Folders as their sources', by reel, by clip, or none. */
  readonly layout: 'sources' | 'reel' | 'clip' | 'flat';
  /** Where they go is the home of their kind from then on. */
  readonly asHome: boolean;
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
  quality: Joi.number().integer().min(QUALITY_STEPS.least).max(QUALITY_STEPS.most).default(0),
  sound: Joi.string()
    .valid(...SOUND_WISHES)
    .default('all'),
  alphaIsOwn: Joi.boolean().default(false),
  slates: Joi.boolean().default(false),
  parts: Joi.boolean().default(false),
  onlyLacking: Joi.boolean().required(),
  burnIn: burnInForm.allow(null).required(),
  destination: placeForm.allow(null).required(),
  folderName: folderNameForm.required(),
  layout: Joi.string().valid('sources', 'reel', 'clip', 'flat').required(),
  asHome: Joi.boolean().default(true),
  leave: Joi.array().items(idForm).unique().max(1_000).required(),
  order: readOrderForm.allow(null).default(null),
});

/** Settings before anything was chosen. */
export const PROXIES_AT_FIRST: ProxySettings = {
  scope: { of: 'project' },
  presetId: 'courier',
  size: { by: 'share', share: 2 },
  quality: 0,
  sound: 'all',
  alphaIsOwn: false,
  slates: false,
  parts: false,
  onlyLacking: true,
  burnIn: null,
  destination: null,
  folderName: 'Proxies',
  layout: 'sources',
  asHome: true,
  leave: [],
  order: null,
};
