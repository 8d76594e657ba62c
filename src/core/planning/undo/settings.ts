import Joi from 'joi';

export interface UndoSettings {
  readonly runId: number;
  /** The user has read who uses the files and wants them removed all the same. */
  readonly confirmed?: boolean;
}

export const undoForm = Joi.object<UndoSettings>({ runId: Joi.number().integer().min(1).required(), confirmed: Joi.boolean().default(false) });
