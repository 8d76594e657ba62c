/** Lists come in windows: what is looked at, out of how much. */
import Joi from 'joi';
import { Problem } from './problem';

export const MOST_ROWS = 1000;
const USUAL_ROWS = 100;

/** A part of a list: `total` is the length of the whole, as filtered. */
export interface Window<Row> {
  readonly total: number;
  readonly rows: readonly Row[];
}

export interface WindowQuery<Sort extends string> {
  readonly filter: string;
  readonly sort: Sort;
  readonly down: boolean;
  readonly limit: number;
  readonly offset: number;
}

/** What of a list is asked for; `sorts`: by what it can be sorted, the usual one first. Throws Problem. */
export function windowOf<Sort extends string>(query: URLSearchParams, sorts: readonly [Sort, ...Sort[]]): WindowQuery<Sort> {
  const schema = Joi.object<WindowQuery<Sort>>({
    filter: Joi.string().allow('').max(200).default(''),
    sort: Joi.string()
      .valid(...sorts)
      .default(sorts[0]),
    down: Joi.boolean().default(false),
    limit: Joi.number().integer().min(1).max(MOST_ROWS).default(USUAL_ROWS),
    offset: Joi.number().integer().min(0).default(0),
  }).unknown(true);
  const checked = schema.validate(Object.fromEntries(query));
  if (checked.error) throw new Problem(400, 'bad-query', checked.error.message, 'A list takes filter, sort, down, limit and offset.');
  return checked.value;
}
