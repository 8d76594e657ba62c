import Joi from 'joi';
import { realNameForm } from './atoms';

export interface NewShelf {
  /** Folder on the server. */
  readonly path: string;
  readonly name?: string;
  /** A copy of another shelf that is to be one of its own. */
  readonly ownIdentity: boolean;
}

export const newShelfForm = Joi.object<NewShelf>({
  path: Joi.string()
    .max(4096)
    .required()
    .messages({ 'string.empty': 'Choose a folder, or type its path.', 'string.max': 'A path has at most {#limit} letters.' }),
  name: realNameForm,
  ownIdentity: Joi.boolean().default(false),
});
