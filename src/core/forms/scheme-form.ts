/** Schemes as they come in: from the editor, from a file, with the settings of a sort. */
import Joi from 'joi';
import { CLIP_COLOURS } from '../project/clip';
import type { Rule } from '../scheme/rule';
import { REST, type Scheme } from '../scheme/scheme';
import { idForm, noteForm, realNameForm } from './atoms';

const words = Joi.array().items(Joi.string().max(200)).min(1).max(200);

export const ruleForm = Joi.object<Rule>({
  kinds: Joi.array()
    .items(Joi.string().valid('video', 'audio', 'still', 'sequence', 'other'))
    .min(1)
    .max(5),
  codecs: words,
  cameras: words,
  reels: words,
  days: words,
  bins: words,
  colours: Joi.array()
    .items(Joi.string().valid(...CLIP_COLOURS))
    .min(1)
    .max(CLIP_COLOURS.length),
  used: Joi.boolean(),
  names: words,
  shelves: Joi.array().items(idForm).min(1).max(200),
});

/** Folders within each other; deeper than anyone keeps them. */
const DEEPEST = 12;

const patternForm = Joi.string().allow('').max(200);

function folderForm(depth: number): Joi.ObjectSchema {
  return Joi.object({
    id: idForm.invalid(REST).required(),
    name: patternForm.required(),
    rule: ruleForm.allow(null).required(),
    folders: (depth < DEEPEST ? Joi.array().items(Joi.link(`#folder${depth + 1}`)) : Joi.array().length(0)).max(500).required(),
  }).id(`folder${depth}`);
}

const shared = Array.from({ length: DEEPEST }, (_, index) => folderForm(index + 1));

const keys = {
  name: realNameForm.required(),
  about: noteForm(1_000).default(''),
  folders: Joi.array().items(Joi.link('#folder1')).max(500).required(),
  rest: patternForm.required(),
};

function withFolders<T>(schema: Joi.ObjectSchema<T>): Joi.ObjectSchema<T> {
  let form = schema;
  for (const entry of shared) form = form.shared(entry);
  return form;
}

export const schemeForm = withFolders(Joi.object<Scheme>({ id: idForm.required(), ...keys }));
/** One that is new here: the catalogue gives it its id. */
export const newSchemeForm = withFolders(Joi.object<Omit<Scheme, 'id'>>(keys));

export type ChangedScheme = Omit<Scheme, 'id'> & { readonly revision: number };

/** A change of one: `revision` is the one it began from; 0 where it was removed and is put back. */
export const changedSchemeForm = withFolders(Joi.object<ChangedScheme>({ ...keys, revision: Joi.number().integer().min(0).required() }));

/** First lines of a scheme in a file of its own. */
export const SCHEME_FORMAT = 'mill-shelf-scheme';

/** A scheme in a file. `version` 1 is what this application writes. */
export type SchemeFile = Omit<Scheme, 'id'> & { readonly format: string; readonly version: number };

export const schemeFileForm = withFolders(
  Joi.object<SchemeFile>({
    format: Joi.string()
      .valid(SCHEME_FORMAT)
      .required()
      .messages({ 'any.only': 'This file holds no scheme.', 'any.required': 'This file holds no scheme.' }),
    version: Joi.number().valid(1).required().messages({ 'any.only': 'This scheme was written by a later version of Mill Shelf.' }),
    ...keys,
  }),
);
