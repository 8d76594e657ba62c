/** One door for timelines of any format we read: text in, OTIO documents and findings out. */
import { stops, type Finding } from '../words/finding';
import type { Rate } from '../time/rate';
import type { OtioContent } from './otio/otio-reader';
import type { ReadOptions, TimelineFormat } from './timeline-format';
import { TIMELINE_FORMATS } from './timeline-formats';

export interface TimelineFile extends OtioContent {
  /** See timeline-formats.ts; null where it is none of them. */
  readonly format: string | null;
}

/** Decides by what the text is, not by what its name says. `rate` counts where the format states none. Never throws. */
export function readTimelineFile(
  text: string,
  projectRate: Rate,
  options: ReadOptions = {},
  formats: readonly TimelineFormat[] = TIMELINE_FORMATS,
): TimelineFile {
  const beginning = text
    .slice(0, 64)
    .replace(/^\ufeff/, '')
    .trimStart();
  const format = formats.find(({ recognises }) => recognises(text, beginning, options));
  if (format) return { format: format.id, ...format.read(text, projectRate, options) };
  const finding: Finding = stops(
    'timeline-unknown-format',
    beginning === '' ? 'The file is empty.' : 'This is neither OTIO nor a CMX 3600 edit decision list nor a clip list.',
    `Export the timeline as ${formats.map(({ exportAs }) => exportAs).join(', or as ')}.`,
    'line 1',
  );
  return { format: null, timelines: [], clips: [], findings: [finding] };
}
