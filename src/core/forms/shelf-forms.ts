import Joi from 'joi';
import { RESILIENCES, SHELF_KINDS, type ShelfKind, type ShelfRecord } from '../media/shelf-kind';
import { noteForm, realNameForm } from './atoms';

export interface NewShelf {
  /** Folder on the server. */
  readonly path: string;
  readonly name?: string;
  /** Absent: as it was, or as what is on it tells. */
  readonly kind?: ShelfKind;
  /** A copy of another shelf that is to be one of its own. */
  readonly ownIdentity: boolean;
}

const kindForm = Joi.string().valid(...SHELF_KINDS);

export const newShelfForm = Joi.object<NewShelf>({
  path: Joi.string()
    .max(4096)
    .required()
    .messages({ 'string.empty': 'Choose a folder, or type its path.', 'string.max': 'A path has at most {#limit} letters.' }),
  name: realNameForm,
  kind: kindForm,
  ownIdentity: Joi.boolean().default(false),
});

/** What of a shelf is another from now on. */
export interface ShelfEdit {
  readonly name?: string;
  readonly kind?: ShelfKind;
  readonly record?: ShelfRecord;
}

const lineForm = noteForm(200).required();

export const shelfEditForm = Joi.object<ShelfEdit>({
  name: realNameForm,
  kind: kindForm,
  record: Joi.object<ShelfRecord>({
    owner: lineForm,
    keptAt: lineForm,
    serial: lineForm,
    price: lineForm,
    resilience: Joi.string()
      .valid(...RESILIENCES)
      .required(),
    notes: noteForm(5_000).required(),
  }),
}).min(1);
