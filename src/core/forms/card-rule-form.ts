/** A rule for what is a camera card, as it comes in. */
import Joi from 'joi';
import { signProblem, type CardRule } from '../media/card';
import { realNameForm } from './atoms';

export const cardRuleForm = Joi.object<CardRule>({
  name: realNameForm.required(),
  sign: Joi.string()
    .max(400)
    .required()
    .custom((sign: string, helpers) => {
      // As paths are written elsewhere: without strokes around them.
      const trimmed = sign
        .trim()
        .split('/')
        .filter((name, at, all) => name !== '' || (at > 0 && at < all.length - 1))
        .join('/');
      const problem = signProblem(trimmed);
      return problem === null ? trimmed : helpers.message({ custom: problem });
    }),
});
