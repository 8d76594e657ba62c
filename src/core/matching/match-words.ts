/** A match in words: how a file was found, what keeps it from being taken, what was looked for in vain. */
import { fileName } from '../media/item';
import { fewNames, formatCount, plural } from '../words/figures';
import type { Decision } from './decide';
import { againstWords, matchedBy, type Judged } from './judge';
import { reelsAsked } from './reel';
import type { Told } from './told';

export interface LookedAt {
  readonly shelfName: (shelfId: string) => string;
  readonly isAttached: (shelfId: string) => boolean;
  /** Shelves that were looked at, and how many of the list are unplugged. */
  readonly shelves: number;
  readonly unplugged: number;
}

export function decisionWords(told: Told, { verdict, order, taken, rivals }: Decision, looked: LookedAt): string {
  const best = order[0];
  if (verdict === 'matched' && taken) return `Matched by ${matchedBy(taken) ?? 'name'}. No other file fits.`;
  if (!best) return inVain(told, looked);
  if (verdict === 'ambiguous') return ambiguousWords(told, best, rivals, looked);
  const where = looked.shelfName(best.candidate.place.shelfId);
  if (best.against.length > 0) return `${fileName(best.candidate.place.path)} on ${where}: ${againstWords(best, told)}.`;
  if (!looked.isAttached(best.candidate.place.shelfId)) return `${fileName(best.candidate.place.path)} is on ${where}, which is unplugged.`;
  return `Found by ${matchedBy(best) ?? 'name'} alone. Compare it before you take it.`;
}

function ambiguousWords(told: Told, best: Judged, rivals: readonly Judged[], looked: LookedAt): string {
  const all = [best, ...rivals.filter((own) => own !== best)];
  const shelves = [...new Set(all.map(({ candidate }) => looked.shelfName(candidate.place.shelfId)))];
  const where = fewNames(shelves);
  const count = all.length === 1 ? 'Many files match' : `${formatCount(all.length)} files match`;
  const rate = rivals.find(({ against }) => against.includes('rate'));
  const tells = rate
    ? `${fileName(rate.candidate.place.path)}: ${againstWords(rate, told)}.`
    : reelsAsked(told.reels).length === 0
      ? 'A reel in the list would tell them apart.'
      : 'Compare the pictures.';
  return `${count}, on ${where}. ${tells}`;
}

const LONGEST_NAME = 60;

function inVain({ names, reels }: Told, { shelves, unplugged }: LookedAt): string {
  const short = (name: string) => (name.length > LONGEST_NAME ? `${name.slice(0, LONGEST_NAME)}…` : name);
  const asked = [
    ...(names[0] === undefined ? [] : [`${short(names[0])} with any ending`]),
    ...(reelsAsked(reels).length === 0 ? [] : [`reel ${short(reels[0]!)}`]),
  ];
  const what = asked.length > 0 ? asked.join(', ') : 'a file with this timecode';
  const away = unplugged === 0 ? '' : `; ${plural(unplugged, 'shelf is', 'shelves are')} unplugged`;
  return `Looked for ${what}, on ${plural(shelves, 'shelf', 'shelves')}${away}.`;
}
