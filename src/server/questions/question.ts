/** What can be asked about projects. A new question is a folder of one of these, or a file, and a line in the table (questions.ts). */
import type { Studying } from './studying';

/** What views, those that go through all events, plans, and files that come in may take, in milliseconds, in lanes of their own: none holds up another. */
export const LANES = { look: 60_000, events: 60_000, search: 60_000, disks: 60_000, plan: 180_000, read: 180_000 } as const;
export type Lane = keyof typeof LANES;

export interface QuestionOf<Asked extends object, Answer> {
  readonly lane: Lane;
  /** Within a lane, lighter questions are answered first; 0 if absent. */
  readonly weight?: number;
  /** What the answer is made of: while it is the same the answer is. Absent: it is made anew each time. */
  readonly madeOf?: (study: Studying, asked: Asked) => string;
  /** Whoever asks may know a timeline by an id that it had before. */
  readonly namesTimelines?: true;
  /** It changes something: it is done even where nobody waits for the answer any more. */
  readonly changes?: true;
  /** Throws Problem. */
  readonly answer: (study: Studying, asked: Asked) => Answer | Promise<Answer>;
}

/** An answer that is JSON text already, of this. */
export class Json<T> {
  declare readonly of?: T;
  /** Nothing else that has a text is one. */
  protected readonly isJson = true;
  constructor(readonly text: string) {}
}

export interface OfProject {
  readonly projectId: string;
}

export const ofProject = (study: Studying, { projectId }: OfProject) => study.madeOf(projectId);
