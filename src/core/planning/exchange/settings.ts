import Joi from 'joi';
import { idForm, placeForm } from '../../forms/atoms';
import type { Place } from '../../media/item';
import { clipScopeForm, type ClipScope } from '../taking/clip-scope';

export const EXCHANGE_AMONG = ['folder', 'finished', 'mezzanine'] as const;

export interface ExchangeSettings {
  /** Null: none is chosen yet. */
  readonly timelineId: string | null;
  /** Only events of these clips. */
  readonly scope: ClipScope;
  /** What lies in a folder, or what stands beside the clips as one of their renditions. */
  readonly among: (typeof EXCHANGE_AMONG)[number];
  /** Folder that is looked through, with all in it; null: none is chosen yet. */
  readonly place: Place | null;
  /** Additions to file names, as in `linkProxiesForm`. */
  readonly endings: string;
  readonly inFolders: string;
  readonly what: 'picture' | 'sound' | 'both';
  /** Files that were pulled as parts of sources count as well. */
  readonly parts: boolean;
  /** Of several that fit equally well the one changed last, instead of asking. */
  readonly newest: boolean;
  /** The timeline itself reads the others then; as it was it is kept beside it. */
  readonly inPlace: boolean;
  /** Name of the new timeline, or what the kept one is called; empty: as it suggests itself. */
  readonly name: string;
  /** By event index: item the user chose, or null for none. */
  readonly choices: Readonly<Record<string, string | null>>;
}

export const exchangeForm = Joi.object<ExchangeSettings>({
  timelineId: idForm.allow(null).required(),
  scope: clipScopeForm.required(),
  among: Joi.string()
    .valid(...EXCHANGE_AMONG)
    .required(),
  place: placeForm.allow(null).required(),
  endings: Joi.string().allow('').max(200).required(),
  inFolders: Joi.string().allow('').max(200).required(),
  what: Joi.string().valid('picture', 'sound', 'both').required(),
  parts: Joi.boolean().default(false),
  newest: Joi.boolean().required(),
  inPlace: Joi.boolean().required(),
  name: Joi.string().allow('').max(200).required(),
  choices: Joi.object()
    .pattern(Joi.string().pattern(/^\d{1,7}$/), idForm.allow(null))
    .max(100_000)
    .default({}),
});
