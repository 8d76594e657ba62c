/** The table of questions: what is asked about projects is found through it. */
import { diskQuestions } from './of-disks';
import { houseQuestions } from './of-house';
import { incomingQuestions } from './incoming';
import { planQuestions } from './of-plans';
import { projectQuestions } from './of-projects';
import type { Json, QuestionOf } from './question';
import { timelineQuestions } from './of-timelines';
import { usageQuestions } from './of-usage';

export const QUESTIONS = {
  ...projectQuestions,
  ...timelineQuestions,
  ...usageQuestions,
  ...planQuestions,
  ...incomingQuestions,
  ...diskQuestions,
  ...houseQuestions,
};

type Table = typeof QUESTIONS;
export type Ask = keyof Table;
type AskedOf<A extends Ask> = Table[A] extends QuestionOf<infer Asked, infer _Answer> ? Asked : never;
/** What a question is answered with. */
export type AnswerTo<A extends Ask> = Table[A] extends QuestionOf<infer _Asked, infer Answer> ? (Answer extends Json<infer T> ? T : Answer) : never;

export type Question = { [A in Ask]: { readonly ask: A } & AskedOf<A> }[Ask];

/** A question of any type. */
export type AnyQuestion = QuestionOf<object, unknown>;

/** Throws for what nobody can ask. */
export function questionOf(
  ask: string,
  table: Readonly<Record<string, AnyQuestion>> = QUESTIONS as unknown as Readonly<Record<string, AnyQuestion>>,
): AnyQuestion {
  const found = table[ask];
  if (!found) throw new Error(`Nobody can answer "${ask}".`);
  return found;
}
