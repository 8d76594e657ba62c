import Joi from 'joi';
import { idForm, placeForm } from '../../forms/atoms';
import type { Place } from '../../media/item';
import { clipScopeForm, type ClipScope } from '../taking/clip-scope';

export interface LinkProxiesSettings {
  readonly scope: ClipScope;
  readonly rendition: 'proxy' | 'mezzanine' | 'finished';
  /** Folder that is looked through, with all in it; null: none is chosen yet. */
  readonly place: Place | null;
  /** What names may end in beside the name of the source, as it is typed; see endingsOf. */
  readonly endings: string;
  /** Only below folders of this name; empty: anywhere in `place`. */
  readonly inFolders: string;
  /** Something is burned into them. */
  readonly burnIn: boolean;
  /** By clip id: item the user chose, or null for none. */
  readonly choices: Readonly<Record<string, string | null>>;
}

export const linkProxiesForm = Joi.object<LinkProxiesSettings>({
  scope: clipScopeForm.required(),
  rendition: Joi.string().valid('proxy', 'mezzanine', 'finished').required(),
  place: placeForm.allow(null).required(),
  endings: Joi.string().allow('').max(200).required(),
  inFolders: Joi.string().allow('').max(200).required(),
  burnIn: Joi.boolean().required(),
  choices: Joi.object().pattern(idForm, idForm.allow(null)).max(100_000).default({}),
});
