import Joi from 'joi';
import { folderNameForm, idForm, placeForm, timelineIdsForm } from '../../forms/atoms';
import { schemeForm } from '../../forms/scheme-form';
import type { Place } from '../../media/item';
import type { NameLevel } from '../../naming/name-level';
import type { Scheme } from '../../scheme/scheme';

export type SortScope =
  | { readonly of: 'project' }
  /** A shelf (path "") or a folder on it, all that stands there. */
  | { readonly of: 'folder'; readonly place: Place }
  | { readonly of: 'timelines'; readonly timelineIds: readonly string[] }
  | { readonly of: 'clips'; readonly clipIds: readonly string[] };

/** A row that the user put into another folder than its rule. */
export interface SortException {
  readonly unitId: string;
  readonly folderId: string;
}

export interface SortSettings {
  readonly scope: SortScope;
  readonly scheme: Scheme;
  /** By the scheme's rules, after the bins of the project, or as the folders were. */
  readonly structure: 'scheme' | 'bins' | 'as-it-was';
  readonly destination: Place | null;
  /** The project's own folder at the destination, with tokens. */
  readonly rootName: string;
  readonly action: 'move' | 'copy';
  readonly names: { readonly from: 'original' | 'clip' | 'pattern'; readonly pattern: string; readonly level: NameLevel };
  /** What sets files of one name apart. */
  readonly clashes: 'number' | 'reel' | 'day';
  /** Of files proven equal only the first is put in its place, and clips of the others read it. */
  readonly equalAsOne: boolean;
  /** Files a folder holds before the next numbered one begins; null: as many as come. */
  readonly perFolder: number | null;
  /** Standard folders that nothing goes to are made too. */
  readonly emptyFolders: boolean;
  /** Where a second copy goes, made in the same read; for copying only. */
  readonly second: Place | null;
  /** Media that no clip of the project reads gets one, in a bin named as its folder. */
  readonly makeClips: boolean;
  /** Folders that the move leaves empty go. */
  readonly removeEmptied: boolean;
  /** Folders that stay whole, beside those known by their pattern. */
  readonly whole: readonly Place[];
  readonly exceptions: readonly SortException[];
  /** The day of the sort, as 2026-05-04: what {date} stands for. */
  readonly date: string;
}

export const sortForm = Joi.object<SortSettings>({
  scope: Joi.alternatives(
    Joi.object({ of: Joi.valid('project').required() }),
    Joi.object({ of: Joi.valid('folder').required(), place: placeForm.required() }),
    Joi.object({ of: Joi.valid('timelines').required(), timelineIds: timelineIdsForm.required() }),
    Joi.object({ of: Joi.valid('clips').required(), clipIds: Joi.array().items(idForm).max(100_000).required() }),
  ).required(),
  scheme: schemeForm.required(),
  structure: Joi.string().valid('scheme', 'bins', 'as-it-was').required(),
  destination: placeForm.allow(null).required(),
  rootName: folderNameForm.required(),
  action: Joi.string().valid('move', 'copy').required(),
  names: Joi.object({
    from: Joi.string().valid('original', 'clip', 'pattern').required(),
    pattern: Joi.string().allow('').max(200).required(),
    level: Joi.string().valid('everywhere', 'plain', 'here').required(),
  }).required(),
  clashes: Joi.string().valid('number', 'reel', 'day').required(),
  equalAsOne: Joi.boolean().required(),
  perFolder: Joi.number()
    .integer()
    .min(1)
    .max(1_000_000)
    .allow(null)
    .required()
    .messages({ 'number.base': 'Type a number of files.', 'number.min': 'A folder holds at least one file.', 'number.integer': 'Type whole files.' }),
  emptyFolders: Joi.boolean().required(),
  second: placeForm.allow(null).required(),
  makeClips: Joi.boolean().required(),
  removeEmptied: Joi.boolean().required(),
  whole: Joi.array().items(placeForm).max(1_000).required(),
  exceptions: Joi.array()
    .items(Joi.object({ unitId: Joi.string().max(5_000).required(), folderId: idForm.required() }))
    .max(20_000)
    .required(),
  date: Joi.string()
    .pattern(/^\d{4}-\d{2}-\d{2}$/)
    .required(),
});
