import Joi from 'joi';
import { idForm } from '../../forms/atoms';

export interface FinishSettings {
  /** Null: none is chosen yet. */
  readonly timelineId: string | null;
  /** Events that are switched off are looked at too. */
  readonly countDisabled: boolean;
}

export const finishForm = Joi.object<FinishSettings>({
  timelineId: idForm.allow(null).required(),
  countDisabled: Joi.boolean().required(),
});
