import type { Config } from '../config';
import { asProblem, type Problem } from '../api/problem';
import { Study, type Question } from '../study';
import { giveBackSoon } from './give-back';

export interface StudyJob {
  readonly config: Config;
  readonly question: Question;
}

/** The answer as JSON, or a problem as a value: classes do not cross threads. */
export type StudyAnswer = { readonly json: string } | { readonly problem: Pick<Problem, 'status' | 'code' | 'message' | 'hint'> };

let study: Study | null = null;

export default async function answer({ config, question }: StudyJob): Promise<StudyAnswer> {
  try {
    study ??= Study.open(config);
    return { json: await study.answerJson(question) };
  } catch (error) {
    const { status, code, message, hint } = asProblem(error);
    return { problem: { status, code, message, ...(hint === undefined ? {} : { hint }) } };
  } finally {
    giveBackSoon();
  }
}
