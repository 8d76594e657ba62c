/** The table of formats of timelines, in the order in which a text is tried. */
import type { SourceCount } from '../project/source-count';
import { clipListFormat } from './clip-list/clip-list-format';
import { edlFormat } from './edl/edl-format';
import { otioFormat } from './otio/otio-format';
import type { TimelineFormat } from './timeline-format';

export const TIMELINE_FORMATS: readonly TimelineFormat[] = [otioFormat, edlFormat, clipListFormat];

/** Undefined for what is none, or one of a later version. */
export function timelineFormat(id: string | null): TimelineFormat | undefined {
  return TIMELINE_FORMATS.find((format) => format.id === id);
}

/** How the source timecode of a file is counted where nothing else is known; one whose format is not known states time. */
export function countAtFirst(id: string | null): SourceCount {
  return timelineFormat(id)?.countAtFirst ?? 'list';
}
