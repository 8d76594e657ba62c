/** The parts that forms of requests are made of. A form says what may come in; screens hold it before they send it. */
import Joi from 'joi';
import { LONGEST_ADDITION, MOST_ADDITIONS } from '../matching/additions';
import type { Place } from '../media/item';
import type { Rate } from '../time/rate';

export const idForm = Joi.string().max(64);

export const nameForm = Joi.string().trim(false).max(200).messages({ 'string.max': 'A name has at most {#limit} letters.' });

/** What is to be called something. */
export const realNameForm = nameForm.pattern(/\S/, 'more than blanks').messages({
  'string.empty': 'Type a name.',
  'any.required': 'A name is needed.',
  'string.pattern.name': 'Type a name: blanks alone are none.',
});

export const placeForm = Joi.object<Place>({ shelfId: idForm.required(), path: Joi.string().allow('').max(4096).required() });

export const rateForm = Joi.object<Rate>({
  num: Joi.number().integer().min(1).max(1_000_000).required(),
  den: Joi.number().integer().min(1).max(1_000_000).required(),
});

/** One folder: no path. */
export const folderNameForm = nameForm
  .allow('')
  .pattern(/^[^/\\]*$/, 'one folder')
  .invalid('.', '..')
  .messages({
    'string.pattern.name': 'The name of one folder holds no slash. Choose where it goes with the folder button.',
    'any.invalid': 'This name stands for another folder. Type a name of its own.',
  });

export const noteForm = (most: number) => Joi.string().allow('').max(most).messages({ 'string.max': 'A note has at most {#limit} letters.' });

export const timelineIdsForm = Joi.array().items(idForm).max(10_000);

/** What systems add to the names of files: a rule each, see core/matching/additions.ts. */
export const additionsForm = Joi.array().items(Joi.string().min(1).max(LONGEST_ADDITION)).max(MOST_ADDITIONS);

/** A day of the calendar, as 2027-03-31. */
export const dayForm = Joi.string()
  .pattern(/^\d{4}-\d{2}-\d{2}$/)
  .custom((text: string, helpers) => (isDay(text) ? text : helpers.error('any.invalid')))
  .messages({ 'string.pattern.base': 'Type a day as 2027-03-31.', 'any.invalid': 'There is no such day.' });

function isDay(text: string): boolean {
  const [year, month, day] = text.split('-').map(Number) as [number, number, number];
  const last = [31, year % 4 === 0 && (year % 100 !== 0 || year % 400 === 0) ? 29 : 28, 31, 30, 31, 30, 31, 31, 30, 31, 30, 31][month - 1] ?? 0;
  return day >= 1 && day <= last;
}
