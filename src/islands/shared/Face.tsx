import type { ReactNode } from 'react';
import { ApiError } from './api';
import type { QuestionState } from './asked';
import { ErrorNote } from './ErrorNote';

/** Lines where the answer will stand; what takes long says so in words. */
export function Waiting({ lines = 6, label = 'It is being read' }: { lines?: number; label?: string }) {
  return (
    <div className="waiting" role="status" aria-label={label} aria-busy="true">
      {Array.from({ length: lines }, (_, index) => (
        <i key={index} className={index % 3 === 2 ? 'short' : undefined} />
      ))}
      <span className="soft">{label} …</span>
    </div>
  );
}

/** What could not be brought up to date while an older answer is shown. Where nothing is heard at all the page says so as a whole. */
export function StaleNote({ asked }: { asked: QuestionState }) {
  if (!asked.isThere || !asked.error || (asked.error instanceof ApiError && asked.error.status === 0)) return null;
  return <ErrorNote error={asked.error} lead="This could not be brought up to date." onAgain={asked.again} />;
}

/** An answer's place: lines while it is waited for, what is wrong when it failed, else what it holds. */
export function Face({ asked, lines, children }: { asked: QuestionState; lines?: number; children: ReactNode }) {
  if (!asked.isThere) return asked.error ? <ErrorNote error={asked.error} onAgain={asked.again} /> : <Waiting {...(lines ? { lines } : {})} />;
  return (
    <>
      <StaleNote asked={asked} />
      {children}
    </>
  );
}
