/** An edit decision list laid on tracks, as an OTIO document: the one form timelines are kept in. */
import { notes, type Finding } from '../../planning/finding';
import type { Rate } from '../../time/rate';
import type { Json, OtioObject } from '../otio/otio-types';
import {
  clipDocument,
  externalReference,
  gapDocument,
  MARKER_COLOURS,
  markerDocument,
  rationalTime,
  timelineDocument,
  timeRange,
  timeWarp,
  trackDocument,
  transitionDocument,
} from '../otio/otio-writer';
import { AUXILIARY, BLACK, type EdlEvent, type EdlList, type EdlLocator } from './edl-types';

export function edlToOtio(list: EdlList, r: Rate): { document: OtioObject; findings: Finding[] } {
  const findings: Finding[] = [];
  const start = list.events.reduce((least, event) => Math.min(least, event.recordIn), Infinity);
  const channels = [...new Set(list.events.flatMap((event) => event.channels))].sort((a, b) => rank(a) - rank(b));
  const tracks = channels.map((channel) => {
    const own = list.events.filter((event) => event.channels.includes(channel)).sort((a, b) => a.recordIn - b.recordIn || a.line - b.line);
    return trackDocument(channel === 'V' ? 'V1' : channel, channel.startsWith('A') ? 'Audio' : 'Video', layTrack(own, start, r, findings));
  });
  const metadata: OtioObject = { mill_shelf: { drop_frame: list.dropFrame } };
  return { document: timelineDocument(list.title, rationalTime(Number.isFinite(start) ? start : 0, r), tracks, metadata), findings };
}

function rank(channel: string): number {
  const number = Number(/\d+$/.exec(channel)?.[0] ?? 1);
  return (channel.startsWith('A') ? 1000 : 0) + number;
}

function layTrack(events: readonly EdlEvent[], start: number, r: Rate, findings: Finding[]): Json[] {
  const out: Json[] = [];
  let at = start;
  for (const event of events) {
    // A line of no length only names what a dissolve comes from.
    if (event.recordOut === event.recordIn) continue;
    if (event.recordIn < at) {
      findings.push(
        notes(
          'edl-overlap',
          `Event ${event.number} begins before the one on its track ends; the earlier part is covered.`,
          undefined,
          `line ${event.line}`,
        ),
      );
      trimLast(out, at - event.recordIn, r);
      at = event.recordIn;
    }
    if (event.recordIn > at) out.push(gapDocument(event.recordIn - at, r));
    if (event.transition.type !== 'cut' && event.transition.frames > 0) {
      const wipe = event.transition.type === 'wipe';
      out.push(
        transitionDocument(
          0,
          event.transition.frames,
          r,
          wipe ? 'Custom_Transition' : 'SMPTE_Dissolve',
          wipe ? { cmx_3600: { wipe: event.transition.wipe } } : {},
        ),
      );
    }
    out.push(eventDocument(event, r));
    at = event.recordOut;
  }
  return out;
}

function trimLast(children: Json[], framesTooLong: number, r: Rate): void {
  const last = children[children.length - 1] as OtioObject | undefined;
  const range = last?.source_range as OtioObject | undefined;
  if (!last || !range) return;
  const begin = (range.start_time as OtioObject).value as number;
  const length = (range.duration as OtioObject).value as number;
  if (length <= framesTooLong) children.pop();
  else last.source_range = timeRange(begin, length - framesTooLong, r);
}

function eventDocument(event: EdlEvent, r: Rate): OtioObject {
  const duration = event.recordOut - event.recordIn;
  if (event.reel === BLACK) return gapDocument(duration, r);
  const reel = event.fullReel || (event.reel === AUXILIARY ? '' : event.reel);
  const name = (event.transition.type === 'cut' ? event.fromClipName : event.toClipName || event.fromClipName) || event.reel;
  const metadata: OtioObject = { mill_shelf: { reel, drop_frame: event.dropFrame } };
  const reference: OtioObject = event.sourceFile
    ? externalReference(event.sourceFile, name, null, metadata)
    : { OTIO_SCHEMA: 'MissingReference.1', metadata, name, available_range: null, available_image_bounds: null };
  const sourceIn = Math.min(event.sourceIn, event.sourceOut);
  const effects = event.speed === null ? [] : [timeWarp(event.speed.num / event.speed.den)];
  const clip = clipDocument(name, timeRange(sourceIn, duration, r), reference, effects, {
    cmx_3600: { event: event.number, reel: event.reel, comments: [...event.comments], ...(event.key === '' ? {} : { key: event.key }) },
  });
  return { ...clip, markers: event.locators.map((locator) => locatorDocument(locator, event, sourceIn, r)) };
}

/** A locator stands on the record side, a mark of a clip in its source. */
function locatorDocument(locator: EdlLocator, event: EdlEvent, sourceIn: number, r: Rate): OtioObject {
  const { num, den } = event.speed ?? { num: 1, den: 1 };
  const passed = Math.floor(((locator.frame - event.recordIn) * Math.abs(num)) / den);
  const at = num < 0 ? Math.max(event.sourceIn, event.sourceOut) - 1 - passed : sourceIn + passed;
  return markerDocument(locator.note, timeRange(at, 1, r), MARKER_COLOURS.includes(locator.colour) ? locator.colour : 'RED', '', {
    cmx_3600: { color: locator.colour },
  });
}
