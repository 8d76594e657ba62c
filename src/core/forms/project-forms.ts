import Joi from 'joi';
import { homesForm, type HomesEdit } from '../rendition/homes';
import { readOrderForm, type ReadOrder } from '../rendition/read-order';
import type { Rate } from '../time/rate';
import type { Place } from '../media/item';
import { idForm, placeForm, rateForm, realNameForm } from './atoms';

export interface NewProject {
  readonly name: string;
  readonly rate: Rate;
  readonly dropFrame: boolean;
}

export const newProjectForm = Joi.object<NewProject>({
  name: realNameForm.required(),
  rate: rateForm.required(),
  dropFrame: Joi.boolean().default(false),
});

export const renameForm = Joi.object<{ name: string }>({ name: realNameForm.required() });

export interface ProjectEdit {
  readonly name?: string;
  readonly readOrder?: ReadOrder;
  readonly homes?: HomesEdit;
  /** Shelves that are read before others, in order. */
  readonly drives?: readonly string[];
}

export const projectEditForm = Joi.object<ProjectEdit>({
  name: realNameForm,
  readOrder: readOrderForm,
  homes: homesForm,
  drives: Joi.array().items(idForm).unique().max(1_000),
}).min(1);

/** Folders in which the overview tells what is new. */
export interface WatchedFolders {
  readonly folders: readonly Place[];
}

export const watchedFoldersForm = Joi.object<WatchedFolders>({ folders: Joi.array().items(placeForm).max(1_000).required() });
