import Joi from 'joi';
import { homesForm, type HomesEdit } from '../rendition/homes';
import { readOrderForm, type ReadOrder } from '../rendition/read-order';
import type { Rate } from '../time/rate';
import { rateForm, realNameForm } from './atoms';

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
}

export const projectEditForm = Joi.object<ProjectEdit>({ name: realNameForm, readOrder: readOrderForm, homes: homesForm }).min(1);
