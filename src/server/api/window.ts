/** The form of a window in a query or a body. */
import Joi from 'joi';
import type { WindowQuery } from '../../core/lists/list-window';
import { Problem } from '../errors/problem';

export const MOST_ROWS = 1000;
const USUAL_ROWS = 100;

/** The fields of a window; `sorts`: by what the list can be sorted, the usual one first. */
export function windowKeys(sorts: readonly [string, ...string[]]) {
  return {
    filter: Joi.string().allow('').max(200).default(''),
    sort: Joi.string()
      .valid(...sorts)
      .default(sorts[0]),
    down: Joi.boolean().default(false),
    limit: Joi.number().integer().min(1).max(MOST_ROWS).default(USUAL_ROWS),
    offset: Joi.number().integer().min(0).default(0),
  };
}

/** What of a list is asked for; `sorts`: by what it can be sorted, the usual one first. Throws Problem. */
export function windowOf<Sort extends string>(query: URLSearchParams, sorts: readonly [Sort, ...Sort[]]): WindowQuery<Sort> {
  const schema = Joi.object<WindowQuery<Sort>>(windowKeys(sorts)).unknown(true);
  const checked = schema.validate(Object.fromEntries(query));
  if (checked.error) throw new Problem('bad-query', checked.error.message, 'A list takes filter, sort, down, limit and offset.');
  return checked.value;
}
