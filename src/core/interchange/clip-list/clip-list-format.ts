import { readOtioDocument } from '../otio/otio-reader';
import type { TimelineFormat } from '../timeline-format';
import { clipListTitles, readClipList } from './clip-list-reader';

export const clipListFormat: TimelineFormat = {
  id: 'clip-list',
  title: 'Clip list',
  exportAs: 'a clip list as CSV',
  recognises: (text, _beginning, { columns }) => columns !== undefined || clipListTitles(text) > 0,
  read(text, projectRate, { columns }) {
    const { document, findings } = readClipList(text, projectRate, columns);
    if (!document) return { timelines: [], clips: [], findings };
    const content = readOtioDocument(document, projectRate);
    return { ...content, findings: [...findings, ...content.findings] };
  },
  statesRate: false,
  countAtFirst: 'list',
  hasColumns: true,
};
