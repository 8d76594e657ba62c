/** Files for what timelines name, from the stock: candidates by the indexes, the decision by the core. */
import { placeKey, type Item, type Place } from '../../core/media/item';
import type { Additions } from '../../core/matching/additions';
import { chosenAdditions, matchAll, type Wish } from '../../core/matching/match-all';
import { isTelling, judge } from '../../core/matching/judge';
import type { Decision } from '../../core/matching/decide';
import type { LookedAt } from '../../core/matching/match-words';
import { namesAsked, widerAsked } from '../../core/matching/tells';
import type { Told } from '../../core/matching/told';
import { rateAsNumber } from '../../core/time/rate';
import type { Catalogue } from '../catalogue/catalogue';
import type { FoundByTells, TellFinder } from '../catalogue/tell-finder';

/** How media is looked for. */
export interface MatchChoice {
  /** A shelf or a folder on it; null looks on every shelf of the list. */
  readonly scope: Place | null;
  /** What systems add to names; the usual rules where it is left out. */
  readonly additions?: readonly string[];
}

/** What is told by its timecode alone is looked for one by one: of so many sources. */
const MOST_BY_TIME = 500;

export interface Matches {
  readonly decisions: ReadonlyMap<string, Decision>;
  readonly looked: LookedAt;
  readonly item: (id: string) => Item | null;
}

/** `isAttached`: of the shelves on the list. A file on one that is unplugged is never taken, but keeps another from being the only one. */
export function matchSources(
  catalogue: Catalogue,
  isAttached: (shelfId: string) => boolean,
  wishes: readonly Wish[],
  { scope, additions: rules }: MatchChoice,
): Matches {
  const shelves = catalogue.shelves.list();
  const names = new Map(shelves.map(({ id, name }) => [id, name]));
  const attached = new Set(shelves.map(({ id }) => id).filter(isAttached));
  const additions = chosenAdditions(rules);
  const finder = catalogue.tellFinder([...names.keys()], scope);
  const shelfName = (id: string) => names.get(id) ?? 'a shelf that is off the list';
  const candidates = candidatesFor(catalogue, finder, wishes, additions, shelfName);
  const decisions = matchAll(wishes, ({ key }) => candidates.get(key)!, { additions, shelfName, isAttached: (id) => attached.has(id) });
  const byId = new Map([...candidates.values()].flatMap(({ items }) => items.map((item) => [item.id, item])));
  const unplugged = scope ? 0 : names.size - attached.size;
  const looked = { shelfName, isAttached: (id: string) => attached.has(id), shelves: scope ? 1 : attached.size, unplugged };
  return { decisions, looked, item: (id) => byId.get(id) ?? null };
}

/** By the key of the wishes. Proxies and the like of some clip are no sources, whatever they are named. */
export function candidatesFor(
  catalogue: Catalogue,
  finder: TellFinder,
  wishes: readonly Pick<Wish, 'key' | 'told'>[],
  additions: Additions,
  shelfName: (shelfId: string) => string,
): Map<string, FoundByTells> {
  const asked = wishes.map(({ key, told }) => ({ key, told, names: namesAsked(told), aroundSeconds: secondsRead(told) }));
  const found = new Map<string, FoundByTells>();
  const keep = (some: ReadonlyMap<string, FoundByTells>) => {
    const places = new Set([...some.values()].flatMap(({ items }) => items.map(({ place }) => place)));
    const copies = new Set(catalogue.clips.copiesAmong([...places]).map(placeKey));
    for (const [key, { items, isCut }] of some) {
      const own = copies.size === 0 ? items : items.filter(({ place }) => !copies.has(placeKey(place)));
      const known = found.get(key);
      found.set(key, known ? { items: [...new Set([...known.items, ...own])], isCut: { names: known.isCut.names || isCut.names, reels: isCut.reels } } : { items: own, isCut }); // prettier-ignore
    }
  };
  keep(finder.named(asked));
  // Where a file of the very name may be taken, no other could be told by less.
  const isTold = ({ told, key }: (typeof asked)[number]) =>
    found.get(key)!.items.some((item) => isTelling(judge(told, item, additions, shelfName(item.place.shelfId))));
  const open = asked.filter((wish) => !isTold(wish));
  const wide = open.map(({ told, ...wish }) => ({ ...wish, ...widerAsked(told, additions), byReelAlone: wish.names.length === 0 }));
  keep(finder.wider(wide));
  const byTime = wide.filter(({ byReelAlone, reels, aroundSeconds }) => byReelAlone && reels.length === 0 && aroundSeconds !== null);
  keep(
    new Map(
      byTime
        .slice(0, MOST_BY_TIME)
        .map(({ key, aroundSeconds }) => [key, { items: finder.at(aroundSeconds!), isCut: { names: false, reels: false } }]),
    ),
  );
  return found;
}

/** When it is read first, in seconds of its timecode: to look near it, no more. */
function secondsRead({ reads }: Told): number | null {
  const first = reads[0]?.first;
  return first ? first.value / rateAsNumber(first.rate) : null;
}
