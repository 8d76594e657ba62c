import Joi from 'joi';
import { clipScopeForm, type ClipScope } from '../taking/clip-scope';

export const GENERATION_KINDS = ['finished', 'mezzanine', 'proxy'] as const;

/** No generation is read: what comes after it in the read order is. */
export const NONE = 'none';

export interface GenerationsSettings {
  readonly scope: ClipScope;
  readonly rendition: (typeof GENERATION_KINDS)[number];
  /** Key of the generation that is read from then on, where a clip has it, else the one before it; null: as it is. */
  readonly read: string | null;
}

export const generationsForm = Joi.object<GenerationsSettings>({
  scope: clipScopeForm.required(),
  rendition: Joi.string()
    .valid(...GENERATION_KINDS)
    .required(),
  read: Joi.string().max(40).allow(null).required(),
});
