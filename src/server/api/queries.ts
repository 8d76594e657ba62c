/** What stands behind the "?" of an address, as it is meant. All throw Problem for what is not. */
import type { Recipe } from '../../core/rendition/recipe';
import type { WindowQuery } from '../../core/lists/list-window';
import { Problem } from '../errors/problem';
import type { ClipQuery } from '../projects/clip-views';
import { AMONG, type Among } from '../catalogue/item-window';
import { ITEM_ORDERS, type ItemQuery } from '../projects/item-views';
import { clipQuerySchema, compareSchema, LISTING_KINDS, sampleSchema } from './schemas';
import { windowOf } from './window';

export function clipQuery(query: URLSearchParams): Pick<ClipQuery, 'bin' | 'state' | 'ids'> {
  const checked = clipQuerySchema.validate({ bin: query.get('bin') ?? '', state: query.get('state') ?? '', ids: query.get('ids') });
  if (checked.error) throw new Problem('bad-query', checked.error.message, 'Clips are asked for by bin, state and ids.');
  const { ids, ...where } = checked.value;
  return { ...where, ids: ids?.split(',').filter((id) => id !== '') ?? null };
}

export function compareQuery(query: URLSearchParams): { before: string; after: string } {
  const checked = compareSchema.validate({ before: query.get('before'), after: query.get('after') });
  if (checked.error) throw new Problem('bad-query', checked.error.message, 'Name two timelines: ?before=…&after=…');
  return checked.value;
}

export function itemQuery(query: URLSearchParams): ItemQuery {
  const endings = query.get('endings')?.toLowerCase().split(',');
  const among = query.get('among');
  if (among !== null && !(among in AMONG)) throw new Problem('bad-query', `There is no part of the stock "${among}".`, `Ask among ${Object.keys(AMONG).join(', ')}.`); // prettier-ignore
  const part = among === null ? {} : { among: among as Among };
  return { ...windowOf(query, ITEM_ORDERS), ...part, only: query.get('only') === 'media' ? 'media' : (endings ?? null) };
}

/** How a sample of an item is encoded; null: not at all. */
export function sampleRecipe(query: URLSearchParams): Recipe | null {
  if (!query.has('preset')) return null;
  const checked = sampleSchema.validate({
    presetId: query.get('preset'),
    width: query.get('width'),
    height: query.get('height'),
    quality: query.get('quality') ?? 0,
  });
  if (checked.error) throw new Problem('bad-query', checked.error.message, 'A sample is asked for by preset, width, height and quality.');
  return { ...checked.value, sequenceRate: null, burnIn: null, clipName: '' };
}

/** Like `sampleRecipe`, but refuses a query that names no preset. */
export function tryRecipe(query: URLSearchParams): Recipe {
  const recipe = sampleRecipe(query);
  if (!recipe) throw new Problem('bad-query', 'Say which preset is to be tried.');
  return recipe;
}

/** The window in an order that this kind has; its usual one where none is named. */
export function mustBeQuery(kind: string, query: WindowQuery<string>): WindowQuery<string> {
  const sorts = LISTING_KINDS.find((entry) => entry.kind === kind)?.sorts ?? [''];
  if (query.sort === '') return { ...query, sort: sorts[0] ?? '' };
  if (!sorts.includes(query.sort))
    throw new Problem('bad-query', `"sort" must be one of ${sorts.join(', ')}.`, 'See docs/api.md for the form of this request.');
  return query;
}
