import Joi from 'joi';
import { idForm } from '../../forms/atoms';

export interface CheckCopiesSettings {
  /** What is about to be formatted. */
  readonly shelfId: string;
  /** On how many other drives each file must be, 1 to 3. */
  readonly wanted: number;
  /** Every byte is read once more, here and there, also of what was read before and is untouched since. */
  readonly readAgain: boolean;
}

export const checkCopiesForm = Joi.object<CheckCopiesSettings>({
  shelfId: idForm.required(),
  wanted: Joi.number().integer().min(1).max(3).default(2),
  readAgain: Joi.boolean().default(false),
});
