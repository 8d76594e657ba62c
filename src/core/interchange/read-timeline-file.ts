/** One door for timelines of any format we read: text in, OTIO documents and findings out. */
import { stops, type Finding } from '../words/finding';
import type { Rate } from '../time/rate';
import { clipListTitles, readClipList } from './clip-list/clip-list-reader';
import type { ColumnMap } from './clip-list/clip-list-types';
import { looksLikeEdl, mayBeEdl, readEdl } from './edl/edl-reader';
import { edlToOtio } from './edl/edl-to-otio';
import { readOtio, readOtioDocument, type OtioContent } from './otio/otio-reader';

export type TimelineFormat = 'otio' | 'edl' | 'clip-list';

export interface TimelineFile extends OtioContent {
  readonly format: TimelineFormat | null;
}

/** What the reader of a file without a rate or with free columns is told. */
export interface ReadOptions {
  /** Columns of a clip list; guessed from its titles when left out. */
  readonly columns?: ColumnMap;
}

/** Columns that were chosen, or a line of titles, say what a table is, however its rows look. */
function isEdl(text: string, options: ReadOptions): boolean {
  if (options.columns !== undefined) return false;
  const titles = /^\s*(TITLE|FCM):/.test(text) ? 0 : clipListTitles(text);
  return titles < 2 && (looksLikeEdl(text) || (titles === 0 && mayBeEdl(text)));
}

/** Decides by what the text is, not by what its name says. `rate` counts where the format states none. Never throws. */
export function readTimelineFile(text: string, projectRate: Rate, options: ReadOptions = {}): TimelineFile {
  const beginning = text
    .slice(0, 64)
    .replace(/^\ufeff/, '')
    .trimStart();
  if (beginning.startsWith('{') || beginning.startsWith('[')) return { format: 'otio', ...readOtio(text, projectRate) };
  if (isEdl(text, options)) {
    const { list, findings } = readEdl(text, projectRate);
    if (list.events.length === 0) return { format: 'edl', timelines: [], clips: [], findings };
    const { document, findings: layFindings } = edlToOtio(list, projectRate);
    const content = readOtioDocument(document, projectRate);
    return { format: 'edl', ...content, findings: [...findings, ...layFindings, ...content.findings] };
  }
  if (options.columns !== undefined || clipListTitles(text) > 0) {
    const { document, findings } = readClipList(text, projectRate, options.columns);
    if (!document) return { format: 'clip-list', timelines: [], clips: [], findings };
    const content = readOtioDocument(document, projectRate);
    return { format: 'clip-list', ...content, findings: [...findings, ...content.findings] };
  }
  const finding: Finding = stops(
    'timeline-unknown-format',
    beginning === '' ? 'The file is empty.' : 'This is neither OTIO nor a CMX 3600 edit decision list nor a clip list.',
    'Export the timeline as OpenTimelineIO (.otio) or as a CMX 3600 list (.edl), a clip list as CSV.',
    'line 1',
  );
  return { format: null, timelines: [], clips: [], findings: [finding] };
}
