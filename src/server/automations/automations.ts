/** What is done, or told, by itself in a project where it is switched on; each with settings of its own. */
import Joi from 'joi';
import { watchedFoldersForm } from '../../core/forms/project-forms';
import { WATCHED_FOLDERS } from '../projects/watched-folders';
import { AFTER_STOCKTAKE } from './after-stocktake';

/** Forms of their settings. Those of a kind of plan are looked at when it begins: what the stage would not plan waits for somebody. */
export const AUTOMATIONS: ReadonlyMap<string, Joi.ObjectSchema> = new Map([
  [AFTER_STOCKTAKE, Joi.object().unknown()],
  [WATCHED_FOLDERS, watchedFoldersForm],
]);
