import Joi from 'joi';
import { clipScopeForm, type ClipScope } from '../taking/clip-scope';

export interface RemoveProxiesSettings {
  readonly scope: ClipScope;
  readonly rendition: 'proxy' | 'mezzanine';
  /** All; those alone that stand for no clip, whose source is read; or those that are older than it, do not fit it or are burned in. */
  readonly which: 'all' | 'spare' | 'unfit';
  /** The user has read which clips go offline and wants it all the same. */
  readonly confirmed: boolean;
  /** Files that were made elsewhere and only linked are deleted too; absent: they stay, their links go. */
  readonly elsewhere?: boolean;
}

export const removeProxiesForm = Joi.object<RemoveProxiesSettings>({
  scope: clipScopeForm.required(),
  rendition: Joi.string().valid('proxy', 'mezzanine').required(),
  which: Joi.string().valid('all', 'spare', 'unfit').required(),
  confirmed: Joi.boolean().default(false),
  elsewhere: Joi.boolean(),
});
