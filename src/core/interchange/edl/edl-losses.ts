/** What a list cannot say of the timeline that it is written of, with all that each concerns. */
import { fewNames } from '../../words/figures';
import { notes, warns, type Finding } from '../../words/finding';
import type { CodeOf } from '../../words/finding-codes';

/** Told severely or not. */
type WriterCode = CodeOf<'warns'> & CodeOf<'notes'>;

/** Tracks of nested timelines that go nowhere. */
export const NOT_INSIDE = {
  audio: { code: 'edl-nested-sound', what: 'Sound' },
  video: { code: 'edl-nested-picture', what: 'Picture' },
  other: { code: 'edl-nested-other', what: 'What is neither picture nor sound' },
} as const;

export const FLATTENED = { audio: 'edl-flattened-audio', video: 'edl-flattened-video', other: 'edl-flattened-other' } as const;

export class EdlLosses {
  /** Findings by code, with what they concern. */
  private readonly found = new Map<WriterCode, { message: (count: string) => string; hint?: string; names: string[]; severe: boolean }>();

  findings(): Finding[] {
    return [...this.found].map(([code, { message, hint, names, severe }]) => {
      const unique = [...new Set(names)];
      return (severe ? warns : notes)(code, message(fewNames(unique)), hint);
    });
  }

  /** `message`: of the names of what it concerns. */
  find(code: WriterCode, name: string, message: (list: string) => string, severe = true, hint?: string): void {
    const entry = this.found.get(code);
    if (entry) entry.names.push(name);
    else this.found.set(code, { message, names: [name], severe, ...(hint === undefined ? {} : { hint }) });
  }
}
