import { clipListTitles } from '../clip-list/clip-list-reader';
import { readOtioDocument } from '../otio/otio-reader';
import type { TimelineFormat } from '../timeline-format';
import { looksLikeEdl, mayBeEdl, readEdl } from './edl-reader';
import { edlToOtio } from './edl-to-otio';

export const edlFormat: TimelineFormat = {
  id: 'edl',
  title: 'CMX 3600 list',
  exportAs: 'a CMX 3600 list (.edl)',
  /** Columns that were chosen, or a line of titles, say what a table is, however its rows look. */
  recognises(text, _beginning, { columns }) {
    if (columns !== undefined) return false;
    const titles = /^\s*(TITLE|FCM):/.test(text) ? 0 : clipListTitles(text);
    return titles < 2 && (looksLikeEdl(text) || (titles === 0 && mayBeEdl(text)));
  },
  read(text, projectRate) {
    const { list, findings } = readEdl(text, projectRate);
    if (list.events.length === 0) return { timelines: [], clips: [], findings };
    const { document, findings: layFindings } = edlToOtio(list, projectRate);
    const content = readOtioDocument(document, projectRate);
    return { ...content, findings: [...findings, ...layFindings, ...content.findings] };
  },
  statesRate: false,
  // Lists give labels, and most systems write the source's own.
  countAtFirst: 'source',
  hasColumns: false,
};
