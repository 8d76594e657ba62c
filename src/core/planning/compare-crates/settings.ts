import Joi from 'joi';
import { idForm } from '../../forms/atoms';

export interface CompareCratesSettings {
  readonly before: string;
  /** Null: the project as it is now. */
  readonly after: string | null;
}

export const compareCratesForm = Joi.object<CompareCratesSettings>({ before: idForm.required(), after: idForm.allow(null).required() });
