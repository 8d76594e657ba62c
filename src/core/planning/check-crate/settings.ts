import Joi from 'joi';
import { idForm } from '../../forms/atoms';

export interface CheckCrateSettings {
  readonly crateId: string;
}

export const checkCrateForm = Joi.object<CheckCrateSettings>({ crateId: idForm.required() });
