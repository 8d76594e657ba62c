/** What can be done to the bins of a project. */
import Joi from 'joi';
import type { ClipWords } from '../project/bins';
import { CLIP_COLOURS } from '../project/clip';
import { idForm, noteForm, realNameForm } from './atoms';

export const binPathForm = Joi.string().allow('').max(2000);
const colour = Joi.string().valid('', ...CLIP_COLOURS);
const note = noteForm(10_000);
const clipIds = Joi.array().items(idForm).min(1).max(100_000).required();

/** Clips in the order in which they are numbered, and what they are called. */
export interface NamesByPattern {
  readonly clipIds: readonly string[];
  readonly pattern: string;
}
const byPattern = { clipIds, pattern: Joi.string().max(200).pattern(/\S/, 'more than blanks').required() };
export const namesByPatternForm = Joi.object<NamesByPattern>(byPattern);

export type BinEdit =
  | { readonly do: 'make-bin'; readonly parent: string; readonly name: string }
  | { readonly do: 'rename-bin'; readonly path: string; readonly name: string }
  | { readonly do: 'move-bin'; readonly path: string; readonly parent: string }
  | { readonly do: 'dissolve-bin'; readonly path: string }
  | { readonly do: 'change-bin'; readonly path: string; readonly change: { readonly colour?: string; readonly note?: string } }
  | { readonly do: 'change-clips'; readonly clipIds: readonly string[]; readonly change: ClipWords }
  | ({ readonly do: 'name-clips' } & NamesByPattern)
  | { readonly do: 'add-items'; readonly itemIds: readonly string[]; readonly binPath: string }
  | { readonly do: 'tidy'; readonly bin: string };

const editsByKind = {
  'make-bin': { parent: binPathForm.required(), name: realNameForm.required() },
  'rename-bin': { path: binPathForm.required(), name: realNameForm.required() },
  'move-bin': { path: binPathForm.required(), parent: binPathForm.required() },
  'dissolve-bin': { path: binPathForm.required() },
  'change-bin': { path: binPathForm.required(), change: Joi.object({ colour, note }).min(1).required() },
  'change-clips': {
    clipIds,
    change: Joi.object({ name: realNameForm, note, colour, binPath: binPathForm, conform: Joi.string().valid('by-time', 'by-frame') })
      .min(1)
      .required(),
  },
  'name-clips': byPattern,
  'add-items': { itemIds: clipIds, binPath: binPathForm.required() },
  tidy: { bin: binPathForm.required() },
};

export const binEditForm: Joi.AlternativesSchema<BinEdit> = Joi.alternatives<BinEdit>().conditional('.do', {
  switch: Object.entries(editsByKind).map(([kind, keys]) => ({ is: kind, then: Joi.object({ do: Joi.string().required(), ...keys }) })),
  otherwise: Joi.object({
    do: Joi.string()
      .valid(...Object.keys(editsByKind))
      .required(),
  }),
});
