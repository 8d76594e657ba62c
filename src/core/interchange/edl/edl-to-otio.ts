/** An edit decision list laid on tracks, as an OTIO document: the one form timelines are kept in. */
import { warns, type Finding } from '../../words/finding';
import type { Rate } from '../../time/rate';
import { LABELS } from '../otio/counted-clip';
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
import { AUXILIARY, MADE, type EdlEvent, type EdlList, type EdlLocator } from './edl-types';

export function edlToOtio(list: EdlList, r: Rate): { document: OtioObject; findings: Finding[] } {
  const findings: Finding[] = [];
  const start = list.events.reduce((least, event) => Math.min(least, event.recordIn), Infinity);
  const channels = [...new Set(list.events.flatMap((event) => event.channels))].sort((a, b) => rank(a) - rank(b));
  const tracks = channels.map((channel) => {
    const own = list.events.filter((event) => event.channels.includes(channel)).sort((a, b) => a.recordIn - b.recordIn || a.line - b.line);
    return trackDocument(channel === 'V' ? 'V1' : channel, channel.startsWith('A') ? 'Audio' : 'Video', layTrack(own, start, list, r, findings));
  });
  const metadata: OtioObject = { mill_shelf: { drop_frame: list.dropFrame } };
  return { document: timelineDocument(list.title, rationalTime(Number.isFinite(start) ? start : 0, r), tracks, metadata), findings };
}

function rank(channel: string): number {
  const number = Number(channel.slice(1)) || 1;
  return (channel.startsWith('A') ? 1000 : 0) + number;
}

function layTrack(events: readonly EdlEvent[], start: number, list: EdlList, r: Rate, findings: Finding[]): Json[] {
  const out: Json[] = [];
  let at = start;
  // A line of no length only names what a dissolve comes from.
  const laid = events.filter((event) => event.recordOut > event.recordIn);
  laid.forEach((event, index) => {
    const next = laid[index + 1];
    const end = next ? Math.min(event.recordOut, next.recordIn) : event.recordOut;
    if (next && end < event.recordOut) findings.push(covered(event, next, event.recordOut - end));
    if (end === event.recordIn) return;
    if (event.recordIn > at) out.push(gapDocument(event.recordIn - at, r));
    if (event.transition.type !== 'cut' && event.transition.frames > 0) out.push(transitionInto(event, r));
    out.push(eventDocument(event, end - event.recordIn, list, r));
    at = end;
  });
  return out;
}

function covered(event: EdlEvent, by: EdlEvent, frames: number): Finding {
  const name = `event ${event.number} (${nameOf(event)})`;
  const whole = frames === event.recordOut - event.recordIn;
  const what = whole ? `all ${frames} frames of ${name}` : `the last ${frames} frames of ${name}`;
  const hint = whole ? 'It is not on the timeline.' : 'They are not on the timeline.';
  return warns('edl-overlap', `Event ${by.number} begins before the one above it on its track ends and covers ${what}.`, hint, `line ${by.line}`);
}

function transitionInto({ transition: { type, wipe, frames } }: EdlEvent, r: Rate): OtioObject {
  return type === 'wipe'
    ? transitionDocument(0, frames, r, 'Custom_Transition', { cmx_3600: { wipe } })
    : transitionDocument(0, frames, r, 'SMPTE_Dissolve');
}

function givenName(event: EdlEvent): string {
  return event.transition.type === 'cut' ? event.fromClipName : event.toClipName || event.fromClipName;
}

/** Without a name of its own an event bears that of its reel. */
function nameOf(event: EdlEvent): string {
  const given = givenName(event) || event.reel;
  // Some writers mark held frames by these letters.
  return event.speed?.num === 0 ? given.replace(/ FF$/, '') : given;
}

/** `duration`: record frames shown of the event, from its first. */
function eventDocument(event: EdlEvent, duration: number, list: EdlList, r: Rate): OtioObject {
  // A reel may be called so by chance: what names a file or a longer reel is media. Black is black.
  const isNamed = event.sourceFile !== '' || event.fullReel !== '';
  const makes = isNamed && event.reel === 'BARS' ? undefined : MADE.get(event.reel);
  // Black that has a name is an event, as a slug is; below a fade FROM names what fades.
  if (makes === 'black' && (event.transition.type === 'cut' ? event.fromClipName : event.toClipName) === '') return gapDocument(duration, r);
  const reel = event.fullReel || (event.reel === AUXILIARY ? '' : event.reel);
  const name = nameOf(event);
  const metadata: OtioObject = { mill_shelf: { reel, drop_frame: event.dropFrame } };
  const reference: OtioObject = makes
    ? {
        OTIO_SCHEMA: 'GeneratorReference.1',
        metadata: {},
        name,
        available_range: null,
        available_image_bounds: null,
        generator_kind: makes,
        parameters: {},
      }
    : event.sourceFile
      ? externalReference(event.sourceFile, name, null, metadata)
      : { OTIO_SCHEMA: 'MissingReference.1', metadata, name, available_range: null, available_image_bounds: null };
  // Played backwards, the last frames of the record are the first ones of the source.
  const covered = backwards(event) ? reversedFrames(event, event.recordOut - event.recordIn) - reversedFrames(event, duration) : 0;
  const sourceIn = Math.min(event.sourceIn, event.sourceOut) + covered;
  const effects = event.speed === null ? [] : [timeWarp(event.speed.num / event.speed.den)];
  const clip = clipDocument(name, timeRange(sourceIn + event.between, duration, r), reference, effects, {
    ...ownWords(event, duration, list),
    cmx_3600: { event: event.number, reel: event.reel, comments: [...event.comments], ...(event.key === '' ? {} : { key: event.key }) },
  });
  return { ...clip, markers: event.locators.map((locator) => locatorDocument(locator, event, sourceIn, duration, r)) };
}

/** The labels of its source, where the points in the list's own frames do not say all that they say. */
function ownWords(event: EdlEvent, duration: number, list: EdlList): OtioObject {
  const isUnstated = event.speed !== null && !event.isSpeedStated && !backwards(event);
  const isPart = event.isSpeedStated || backwards(event) || duration < event.recordOut - event.recordIn;
  const [first, last] = event.labels;
  const labels: OtioObject = isUnstated || event.isFiner || event.dropFrame !== list.dropFrame ? { [LABELS]: [first, isPart ? null : last] } : {};
  const words: OtioObject = { ...(givenName(event) === '' ? { unnamed: true } : {}), ...labels };
  return Object.keys(words).length === 0 ? {} : { mill_shelf: words };
}

function backwards(event: EdlEvent): boolean {
  return (event.speed?.num ?? 1) < 0;
}

/** Source frames that so many record frames take, played backwards: as reversed events are read. */
function reversedFrames({ speed }: EdlEvent, recordFrames: number): number {
  const { num, den } = speed!;
  return Math.ceil(Math.max((recordFrames * -num) / den, ((recordFrames - 1) * -num) / den + 1));
}

/** A locator stands on the record side, a mark of a clip in its source. */
function locatorDocument(locator: EdlLocator, event: EdlEvent, sourceIn: number, duration: number, r: Rate): OtioObject {
  const { num, den } = event.speed ?? { num: 1, den: 1 };
  const passed = Math.floor(((locator.frame - event.recordIn) * Math.abs(num)) / den);
  const at = num < 0 ? sourceIn + reversedFrames(event, duration) - 1 - passed : sourceIn + passed;
  return markerDocument(locator.note, timeRange(at, 1, r), MARKER_COLOURS.includes(locator.colour) ? locator.colour : 'RED', '', {
    cmx_3600: { color: locator.colour },
  });
}
