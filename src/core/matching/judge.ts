/** One file held against what a timeline tells of one source: how it is alike, and what speaks against it. */
import type { Item } from '../media/item';
import { canProve, comparePrints } from '../media/fingerprint';
import type { MatchedBy } from '../project/clip';
import { ceilFrames, floorFrames, type Moment } from '../project/moment';
import { rateLabel, sameRate, type Rate } from '../time/rate';
import type { Additions } from './additions';
import { heldBy, type HeldBy } from './holds';
import { nameLikeness, nameRank, type NameLikeness } from './name-likeness';
import { plainName } from './plain-name';
import { reelLikeness, reelsAsked, type ReelLikeness } from './reel';
import { toldRate, type Told } from './told';

/** What must be known of a file. */
export type Candidate = Pick<Item, 'id' | 'place' | 'fingerprint' | 'facts' | 'originalName'>;

/** What speaks against a file, by kinds that the screens put into words. */
export type Against = 'kind' | 'rate' | 'reel' | 'frames' | 'length' | 'start';

export interface Judged {
  readonly candidate: Candidate;
  readonly name: NameLikeness | null;
  readonly reel: ReelLikeness | null;
  readonly held: HeldBy | null;
  readonly against: readonly Against[];
}

/** Neither what is told nor what is known of a file ever changes: held against each other once, under the same rules, it holds. */
const kept = new WeakMap<Told, { readonly additions: Additions; readonly judged: Map<Candidate, Judged> }>();

export function judge(told: Told, candidate: Candidate, additions: Additions, shelfName: string | null): Judged {
  const known = kept.get(told);
  const own = known?.additions === additions ? known : { additions, judged: new Map<Candidate, Judged>() };
  if (own !== known) kept.set(told, own);
  const judged = own.judged.get(candidate) ?? judgeNow(told, candidate, additions, shelfName);
  own.judged.set(candidate, judged);
  return judged;
}

function judgeNow(told: Told, candidate: Candidate, additions: Additions, shelfName: string | null): Judged {
  const { facts } = candidate;
  const asked = reelsAsked(told.reels);
  const name = nameLikeness(told.names, candidate, additions);
  const reel = reelLikeness(asked, candidate, shelfName);
  const held = heldBy(told.reads, facts);
  const rate = toldRate(told);
  const against: Against[] = [];
  if (!isOfKind(facts, told.wants)) against.push('kind');
  if (rate !== null && isPicture(facts) && facts.rate !== null && !sameRate(rate, facts.rate)) against.push('rate');
  // A reel that is only the name again says nothing of its own.
  const isOwnReel = asked.some((key) => !told.names.some((own) => plainName(own).startsWith(key)));
  if (asked.length > 0 && reel === null && isOwnReel) against.push('reel');
  if (held === null) against.push('frames');
  if (told.length !== null && facts.durationFrames !== null && !isLength(told, facts.durationFrames, facts.rate)) against.push('length');
  if (told.start !== null && facts.startFrame !== null && facts.rate !== null && !isStart(told.start, facts.startFrame, facts.rate)) against.push('start'); // prettier-ignore
  return { candidate, name, reel, held, against };
}

function isPicture({ kind }: Item['facts']): boolean {
  return kind === 'video' || kind === 'sequence';
}

function isOfKind({ kind, audio }: Item['facts'], wants: Told['wants']): boolean {
  if (wants === 'picture') return kind === 'video' || kind === 'sequence' || kind === 'still';
  if (wants === 'sound') return kind === 'audio' || (kind === 'video' && audio.length > 0);
  return kind !== 'other';
}

/** To the unit of what is counted more coarsely: recorders begin between the frames of the timeline. */
function isStart(told: Moment, own: number, rate: Rate): boolean {
  const slack = sameRate(rate, told.rate) ? 0 : Math.max(1, Math.ceil((rate.num * told.rate.den) / (rate.den * told.rate.num)));
  return Math.abs(floorFrames(told, rate) - own) <= slack;
}

/** Lengths told at another rate are compared by time, to a unit of what is counted more coarsely. */
function isLength({ length }: Told, frames: number, own: Rate | null): boolean {
  const rate = own ?? length!.rate;
  return floorFrames(length!, rate) <= frames && ceilFrames({ value: length!.value + (sameRate(rate, length!.rate) ? 0 : 1), rate: length!.rate }, rate) >= frames; // prettier-ignore
}

export function matchedBy({ name, reel, held }: Judged): MatchedBy | null {
  if (nameRank(name) > 0) return held === 'timecode' ? 'name and timecode' : 'file name';
  if (reel !== null) return held === 'timecode' ? 'reel and timecode' : 'reel';
  return held === 'timecode' ? 'timecode' : null;
}

/** Whether a file may be taken without being asked, if it is the only one: nothing speaks against it, and enough for it. */
export function isTelling({ name, reel, held, against }: Judged): boolean {
  if (against.length > 0 || held === null) return false;
  if (name === 'exact' || name === 'stem') return true;
  return held === 'timecode' && (name !== null || reel !== null);
}

/** Content that is the same, by a fingerprint that can tell: one source, however many files. Dark or silent files never are. */
export function isSameContent(a: Candidate, b: Candidate): boolean {
  return comparePrints(a.fingerprint, b.fingerprint) === true && canProve(a.fingerprint!, a.facts.kind === 'sequence');
}

/** Like `isTelling`, of a file whose rate alone is another than that of the list: by its name or reel and its own timecode. */
export function isTellingAtOtherRate({ name, reel, held, against }: Judged): boolean {
  return against.length === 1 && against[0] === 'rate' && held === 'timecode' && (nameRank(name) > 0 || reel !== null);
}

export function againstWords(judged: Judged, told: Told): string {
  const rate = toldRate(told);
  const { facts } = judged.candidate;
  const words: Readonly<Record<Against, string>> = {
    kind: told.wants === 'sound' ? 'it has no sound' : 'it has no picture',
    rate: `it runs at ${facts.rate ? rateLabel(facts.rate) : 'no known rate'}${facts.steadyRate === false ? ' (variable)' : ''}, the list counts at ${rate ? rateLabel(rate) : 'none'}`,
    reel: `the list says reel ${told.reels[0] ?? ''}`,
    frames: facts.durationFrames === null ? 'its length is not known' : 'it does not hold all used frames',
    length: 'its length differs',
    start: 'its start timecode differs',
  };
  return judged.against.map((reason) => words[reason]).join(', ');
}
