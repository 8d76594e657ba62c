import Joi from 'joi';
import { dayForm } from './atoms';

/** What is said of a crate after it was made. */
export interface CrateEdit {
  /** Day until which no undo takes it, inclusive; null unlocks it. */
  readonly lockedUntil?: string | null;
  readonly handedOver?: boolean;
}

export const crateEditForm = Joi.object<CrateEdit>({ lockedUntil: dayForm.allow(null), handedOver: Joi.boolean() }).or('lockedUntil', 'handedOver');
