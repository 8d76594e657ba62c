/** What of what is shown depends on what has changed: the rest is not asked for again. */
import type { Change, Topic } from '../../../server/house';

/** Whatever the answers below these keys are made of, it is not a project's own. */
const OF_NO_PROJECT: ReadonlySet<unknown> = new Set([
  'shelves',
  'schemes',
  'card-rules',
  'bridges',
  'folders',
  'item',
  'items',
  'sample',
  'stocktake',
]);

/** Some changes touch a few answers alone. */
const ONLY: Partial<Record<Topic, ReadonlySet<unknown>>> = {
  schemes: new Set(['schemes']),
  cards: new Set(['card-rules', 'plan', 'shown']),
  crates: new Set(['crates', 'overview', 'project', 'projects', 'plan', 'shown']),
};

/** What tells of other projects too. */
const ELSEWHERE: ReadonlySet<unknown> = new Set(['projects', 'plan', 'shown']);

/** `here`: the project that the page is about; null on a page about none. */
export function dependsOn(queryKey: readonly unknown[], { what, projectId }: Change, here: string | null): boolean {
  const [kind] = queryKey;
  const only = ONLY[what];
  if (only && !only.has(kind)) return false;
  if (projectId === null) return true;
  if (projectId === here || here === null) return !OF_NO_PROJECT.has(kind);
  // Of another project this page tells it in its list; and a plan may ask who reads a file, whoever that is.
  return ELSEWHERE.has(kind);
}

export function projectHere(): string | null {
  return /^\/p\/([^/]+)\//.exec(window.location.pathname)?.[1] ?? null;
}
