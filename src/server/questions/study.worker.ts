import type { Config } from '../config';
import { plainProblem, type PlainProblem } from '../errors/problem';
import { asProblem } from '../errors/as-problem';
import type { Question } from './questions';
import { Study } from './study';
import { giveBackSoon } from './give-back';

export interface StudyJob {
  readonly config: Config;
  readonly question: Question;
}

/** The answer as JSON, or a problem as a value: classes do not cross threads. */
export type StudyAnswer = { readonly json: string } | { readonly problem: PlainProblem };

let study: Study | null = null;

export default async function answer({ config, question }: StudyJob): Promise<StudyAnswer> {
  try {
    study ??= Study.open(config);
    return { json: await study.answerJson(question) };
  } catch (error) {
    return { problem: plainProblem(asProblem(error)) };
  } finally {
    giveBackSoon();
  }
}
