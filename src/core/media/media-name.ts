import { trimEndOf } from '../naming/trim-end';
import type { MediaFacts } from './item';

/** What media goes by: numbered frames by what stands before the number, a file by its name. */
export function mediaName({ sequence }: Pick<MediaFacts, 'sequence'>, fileName: string): string {
  return sequence ? trimEndOf(sequence.prefix, /[._\- ]/) : fileName;
}
