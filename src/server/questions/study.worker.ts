import type { Config } from '../config';
import { plainProblem, type PlainProblem } from '../errors/problem';
import { asProblem } from '../errors/as-problem';
import type { Question } from './questions';
import { ToldSilence } from '../stock/mounts';
import { tellTouchesIn } from '../stock/touching';
import { Study } from './study';
import { giveBackSoon } from './give-back';

export interface StudyJob {
  readonly config: Config;
  readonly question: Question;
  /** Folders that do not answer. */
  readonly silent: readonly string[];
  /** Where it is told which folder is touched. */
  readonly touch: SharedArrayBuffer;
}

/** The answer as JSON, or a problem as a value: classes do not cross threads. */
export type StudyAnswer = { readonly json: string } | { readonly problem: PlainProblem };

let study: Study | null = null;
const silence = new ToldSilence();

export default async function answer({ config, question, silent, touch }: StudyJob): Promise<StudyAnswer> {
  try {
    study ??= Study.open(config, silence);
    silence.folders = silent;
    tellTouchesIn(touch);
    return { json: await study.answerJson(question) };
  } catch (error) {
    return { problem: plainProblem(asProblem(error)) };
  } finally {
    giveBackSoon();
  }
}
