import Joi from 'joi';
import { idForm } from '../../forms/atoms';

export interface CompareCratesSettings {
  readonly before: string;
  readonly after: string;
}

export const compareCratesForm = Joi.object<CompareCratesSettings>({ before: idForm.required(), after: idForm.required() });
