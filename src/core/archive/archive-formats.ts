/** The table of formats of archives: crates are made and opened through it. */
import type { ArchiveFormat } from './archive-format';
import { bagitFormat } from './bagit/bagit-format';

export const ARCHIVE_FORMATS: readonly ArchiveFormat[] = [bagitFormat];

/** The one that crates are made in. */
export const CRATE_FORMAT: ArchiveFormat = bagitFormat;

/** By what stands in a folder (`stands`: whether a file of that name does); undefined where it is no archive. */
export function archiveAt(stands: (name: string) => boolean, formats = ARCHIVE_FORMATS): ArchiveFormat | undefined {
  return formats.find(({ mark }) => stands(mark));
}
