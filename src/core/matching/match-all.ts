/** All sources of a timeline matched together: what most of them agree on ranks the files of each. */
import { additionsFrom, USUAL, type Additions } from './additions';
import { decide, type Decision } from './decide';
import { isTellingAtOtherRate, judge, type Candidate, type Judged } from './judge';
import { FolderCount } from './together';
import type { Told } from './told';

export interface Wish {
  readonly key: string;
  readonly told: Told;
  /** File that was accepted for it; undefined where nothing was said. */
  readonly accepted?: string | null;
}

export interface MatchContext {
  readonly additions: Additions;
  /** Name of a shelf, and whether it is attached. */
  readonly shelfName: (shelfId: string) => string;
  readonly isAttached: (shelfId: string) => boolean;
}

/** Files that may be it, and whether there are more that answer to its names, or to its reels, than were looked at. */
export interface Candidates {
  readonly items: readonly Candidate[];
  readonly isCut: { readonly names: boolean; readonly reels: boolean };
}

/** Files are judged once; so many of each source are compared with each other. */
const MOST_JUDGED = 300;

/** By key. `candidates` is asked once for each. */
export function matchAll(wishes: readonly Wish[], candidates: (wish: Wish) => Candidates, context: MatchContext): Map<string, Decision> {
  const { additions, shelfName, isAttached } = context;
  const count = new FolderCount();
  const judged = wishes.map((wish) => {
    const { items, isCut } = candidates(wish);
    const own = items.slice(0, MOST_JUDGED).map((candidate) => judge(wish.told, candidate, additions, shelfName(candidate.place.shelfId)));
    count.add(own, own.find(({ candidate }) => candidate.id === wish.accepted) ?? null);
    return { own, isCut: { names: isCut.names || items.length > MOST_JUDGED, reels: isCut.reels } };
  });
  const isThere = ({ candidate }: Judged) => isAttached(candidate.place.shelfId);
  const decided = (isMixed: boolean) => new Map(wishes.map((wish, index) => [wish.key, decide(judged[index]!.own, judged[index]!.isCut, count.votes, isThere, isMixed)])); // prettier-ignore
  const decisions = decided(false);
  return isMixedList(decisions) ? decided(true) : decisions;
}

/** Whether a list has sources at other rates, and not the wrong rate itself: then most of them would be at another one. */
function isMixedList(decisions: ReadonlyMap<string, Decision>): boolean {
  let [own, other] = [0, 0];
  for (const { taken, order } of decisions.values()) {
    if (taken) own++;
    else if (order.some(isTellingAtOtherRate)) other++;
  }
  return other > 0 && own >= other;
}

/** Rules as they were chosen; the usual ones where nothing was. */
export function chosenAdditions(rules: readonly string[] | undefined): Additions {
  return rules === undefined ? USUAL : additionsFrom(rules);
}
