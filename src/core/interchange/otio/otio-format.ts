import type { TimelineFormat } from '../timeline-format';
import { readOtio } from './otio-reader';

export const otioFormat: TimelineFormat = {
  id: 'otio',
  title: 'OpenTimelineIO',
  exportAs: 'OpenTimelineIO (.otio)',
  recognises: (_text, beginning) => beginning.startsWith('{') || beginning.startsWith('['),
  read: readOtio,
  statesRate: true,
  countAtFirst: 'list',
  hasColumns: false,
};
