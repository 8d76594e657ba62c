/** Reels that a file answers to: what it carries, its name or the beginning of it, the folder of its card. */
import { STANDARD_CARDS, stemOf } from '../media/card';
import { fileName, folderOf, type MediaFacts } from '../media/item';
import { trimEndOf } from '../naming/trim-end';
import { plainName } from './plain-name';

/** Letters that lists cut reels to: the column of CMX 3600, and longer ones that are common practice. */
export const CUT_LENGTHS = [8, 16, 32] as const;

/** Reels that are none: black, and a source without timecode. */
const NO_REEL = new Set(['', 'ax', 'bl', 'black', 'none']);

/** How a file answers to a reel, from what says most to what says least. */
export const REEL_LIKENESS = ['metadata', 'card', 'name', 'part of name', 'cut'] as const;
export type ReelLikeness = (typeof REEL_LIKENESS)[number];

export interface AnswersTo {
  readonly place: { readonly path: string };
  readonly facts: Pick<MediaFacts, 'reel' | 'sequence'>;
  readonly originalName?: string;
}

/** Plain keys of the reels that are asked for; empty where there are none. */
export function reelsAsked(reels: readonly string[]): string[] {
  return [...new Set(reels.map(plainName))].filter((key) => !NO_REEL.has(key));
}

interface Answer {
  readonly text: string;
  readonly as: ReelLikeness;
}

/** All that a file may be called as a reel, uncut. `shelfName`: a card may be the whole shelf. */
function answersOf({ place: { path }, facts, originalName }: AnswersTo, shelfName: string | null): Answer[] {
  const own = facts.sequence ? trimEndOf(facts.sequence.prefix, /[._\- ]/) : stemOf(path);
  const stems = originalName === undefined ? [own] : [stemOf(originalName), own];
  const card = STANDARD_CARDS.around(path);
  const folder = card ? fileName(card.root) || shelfName : fileName(folderOf(path)) || shelfName;
  const parts = stems.flatMap((stem) => {
    const first = stem.indexOf('_');
    const second = first < 0 ? -1 : stem.indexOf('_', first + 1);
    return [first, second].filter((at) => at > 0).map((at) => stem.slice(0, at));
  });
  return [
    ...(facts.reel ? [{ text: facts.reel, as: 'metadata' } as const] : []),
    ...(folder ? [{ text: folder, as: 'card' } as const] : []),
    ...stems.map((text) => ({ text, as: 'name' }) as const),
    ...parts.map((text) => ({ text, as: 'part of name' }) as const),
  ];
}

/** Plain keys under which a file is found by a reel, cut ones too. Its whole name is not among them. */
export function reelKeys(file: AnswersTo): string[] {
  const answers = answersOf(file, null);
  const whole = answers.filter(({ as }) => as !== 'name').map(({ text }) => plainName(text));
  const cut = answers.filter(({ as }) => as !== 'part of name').flatMap(({ text }) => cutsOf(text));
  return [...new Set([...whole, ...cut])].filter((key) => key !== '');
}

/** Cut before or after signs are left out: writers do either. */
function cutsOf(text: string): string[] {
  const plain = plainName(text);
  return CUT_LENGTHS.flatMap((length) => [
    ...(text.length > length ? [plainName(text.slice(0, length))] : []),
    ...(plain.length > length ? [plain.slice(0, length)] : []),
  ]);
}

/** Answers in plain letters, by how the file gives them; of a file they are always the same. */
const keptAnswers = new WeakMap<AnswersTo, ReadonlyMap<ReelLikeness, readonly string[]>>();

function plainAnswers(file: AnswersTo, shelfName: string | null): ReadonlyMap<ReelLikeness, readonly string[]> {
  const known = keptAnswers.get(file);
  if (known) return known;
  const answers = answersOf(file, shelfName);
  const made = new Map<ReelLikeness, readonly string[]>(
    REEL_LIKENESS.map((as) => [
      as,
      as === 'cut'
        ? answers.filter((answer) => answer.as !== 'part of name').flatMap(({ text }) => cutsOf(text))
        : answers.filter((answer) => answer.as === as).map(({ text }) => plainName(text)),
    ]),
  );
  keptAnswers.set(file, made);
  return made;
}

/** How the file answers to one of these reels (as reelsAsked gives them); null where it answers to none. */
export function reelLikeness(asked: readonly string[], file: AnswersTo, shelfName: string | null): ReelLikeness | null {
  if (asked.length === 0) return null;
  const answers = plainAnswers(file, shelfName);
  return REEL_LIKENESS.find((as) => answers.get(as)!.some((key) => asked.includes(key))) ?? null;
}
