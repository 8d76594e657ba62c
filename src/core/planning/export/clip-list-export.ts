/** A timeline as a table, one row an event. */
import { writeClipList } from '../../interchange/clip-list/clip-list-writer';
import type { ClipListRow } from '../../interchange/clip-list/clip-list-types';
import { portableName } from '../../naming/safe-name';
import { placedEvents } from '../../project/compare';
import { ceilFrames, floorFrames } from '../../project/moment';
import { rateLabel } from '../../time/rate';
import { frameToTimecode } from '../../time/timecode';
import { clipListFindings } from './clip-list-rows';
import type { TimelineSnapshot } from '../plan/snapshot';
import type { ExportFormatEntry, Exporting, Made } from './exporting';

export const clipListExport: ExportFormatEntry = { write: clipList };

function clipList(out: Exporting, timeline: TimelineSnapshot): Made {
  const rows = placedEvents(timeline.model).map(({ event, source: shown }): ClipListRow => {
    const clip = out.clips.get(timeline.clipIds[event.index] ?? '');
    const source = out.listSource(timeline, event);
    const { rate, dropFrame } = source.count ?? timeline.model;
    const label = (frame: number) => frameToTimecode(frame, rate, dropFrame);
    const start = clip?.mediaStart ? label(floorFrames(clip.mediaStart, rate) + source.offsetFrames) : '';
    return {
      name: event.name || (clip?.name ?? ''),
      file: source.file,
      reel: source.reel ?? '',
      start,
      in: label(floorFrames({ value: shown.start, rate: event.units }, rate) + source.offsetFrames),
      out: label(ceilFrames({ value: shown.end, rate: event.units }, rate) + source.offsetFrames),
      bin: clip?.binPath ?? '',
      notes: clip?.note ?? '',
      rate: source.count ? rateLabel(source.count.rate) : '',
    };
  });
  const path = out.names.claim('', `${portableName(timeline.model.name)}.csv`);
  const step = out.write(path, writeClipList(rows), 'one row an event');
  return { steps: [step], rows: [out.row(timeline, path, step.expectedBytes)], findings: clipListFindings(timeline) };
}
