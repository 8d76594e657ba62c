/**
 * A timeline as CMX 3600 lists: one a picture track, the sound of its first four tracks with the first of them.
 * What the format cannot say is a finding. Source: the list format as published with the CMX 3600; M2 lines and
 * comments are common practice.
 */
import { type Finding } from '../../words/finding';
import {
  activeReference,
  clipEvents,
  type ClipEvent,
  type Marker,
  type NestedStack,
  type Timeline,
  type Track,
  type Transition,
} from '../../project/timeline';
import { ceilFrames, exactFrames, floorFrames, type Moment } from '../../project/moment';
import { nominalFps, rateLabel, sameRate, type Rate } from '../../time/rate';
import Fraction from 'fraction.js';
import { isNormal, type Speed } from '../../time/retime';
import { framesPerDay, frameToTimecode } from '../../time/timecode';
import { betweenLine, channelColumn, oneLine, speedLines } from './edl-lines';
import { EdlLosses, FLATTENED, NOT_INSIDE } from './edl-losses';
import { atSpeedOf, flatten, shownInside, type Laid, type LaidAfter } from './laid';
import { AUXILIARY, BLACK, MADE, MOST_EVENTS } from './edl-types';
import { ReelNames } from './reel-names';
import { averageSpeed, pacedRead, sourceRead, timesPace, type SourceCounting } from './source-read';

/** What the list says of an event's source beside its points. */
export interface EdlSource {
  /** Whole reel name; null where there is none. */
  readonly reel: string | null;
  readonly file: string;
  /** Frames to add to the event's own count to get the source timecode, at the rate of `count`. */
  readonly offsetFrames: number;
  /** What its timecode is counted in; absent where that is the count of the list. */
  readonly count?: SourceCounting;
}

export interface EdlFile {
  /** "V1", or "V1 part 2" where one list would hold too many events. */
  readonly label: string;
  readonly text: string;
  readonly events: number;
}

const MOST_SOUND_TRACKS = 4;

/**
 * `sourceOf` tells the source of an event, and what its timecode is counted in. Record timecode is the timeline's.
 * `flattensNested`: nested timelines with layers are written as the topmost picture of each moment, else as one event without a source.
 */
export function writeEdl(
  timeline: Timeline,
  sourceOf: (event: ClipEvent) => EdlSource,
  flattensNested = false,
): { files: EdlFile[]; findings: Finding[] } {
  const writer = new EdlWriter(timeline, sourceOf, flattensNested);
  const pictures = timeline.tracks.filter((track) => track.kind === 'video');
  const sounds = timeline.tracks.filter((track) => track.kind === 'audio');
  const files = pictures.flatMap((track, index) => writer.files(track, index === 0 ? sounds.slice(0, MOST_SOUND_TRACKS) : []));
  if (pictures.length === 0 && sounds.length > 0) files.push(...writer.files(null, sounds.slice(0, MOST_SOUND_TRACKS)));
  writer.generalFindings(sounds.length);
  return { files, findings: writer.findings() };
}

interface Line {
  readonly recordIn: number;
  /** Lines of one event, without its number. */
  readonly rows: readonly {
    readonly reel: string;
    readonly channel: string;
    readonly kind: string;
    readonly times: readonly [number, number, number, number];
    readonly count: SourceCounting;
  }[];
  readonly after: readonly string[];
}

class EdlWriter {
  private readonly reels: ReelNames;
  private readonly losses = new EdlLosses();

  constructor(
    private readonly timeline: Timeline,
    private readonly sourceOf: (event: ClipEvent) => EdlSource,
    private readonly flattensNested: boolean,
  ) {
    const reels = [...clipEvents(timeline.tracks)].flatMap((event) => sourceOf(event).reel ?? []);
    this.reels = new ReelNames([AUXILIARY, ...MADE.keys()], reels);
  }

  findings(): Finding[] {
    return this.losses.findings();
  }

  files(picture: Track | null, sounds: readonly Track[]): EdlFile[] {
    const lines = [...(picture ? this.track(picture, 'V') : []), ...sounds.flatMap((track, index) => this.track(track, `A${index + 1}`))];
    lines.sort((a, b) => a.recordIn - b.recordIn);
    const label = picture?.name ?? 'sound';
    const parts = Math.max(1, Math.ceil(lines.length / MOST_EVENTS));
    if (parts > 1)
      this.losses.find(
        'edl-split',
        label,
        (list) => `${list}: more than ${MOST_EVENTS} events, so it becomes several lists.`,
        false,
        'Their record timecode goes on.',
      );
    return Array.from({ length: parts }, (_, part) => {
      const own = lines.slice(part * MOST_EVENTS, (part + 1) * MOST_EVENTS);
      const name = parts === 1 ? label : `${label} part ${part + 1}`;
      return { label: name, text: this.text(own, name), events: own.length };
    });
  }

  private text(lines: readonly Line[], label: string): string {
    const { rate, dropFrame } = this.timeline;
    const out = [`TITLE: ${oneLine(this.timeline.name)} ${oneLine(label)}`.slice(0, 70).trimEnd(), `FCM: ${dropFrame ? '' : 'NON-'}DROP FRAME`, ''];
    lines.forEach((line, index) => {
      for (const { reel, channel, kind, times, count } of line.rows) {
        const labels = this.labels(reel, times, count).map((frame, at) =>
          at < 2 ? frameToTimecode(frame, count.rate, count.dropFrame) : frameToTimecode(frame, rate, dropFrame),
        );
        out.push(`${String(index + 1).padStart(3, '0')}  ${reel.padEnd(8)} ${channel.padEnd(5)} ${kind.padEnd(8)} ${labels.join(' ')}`);
      }
      out.push(...line.after);
    });
    return `${out.join('\n')}\n`;
  }

  private track(track: Track, channel: string): Line[] {
    if (!track.enabled) {
      this.losses.find('edl-muted', track.name, (list) => `Switched off, so not written: ${list}.`);
      return [];
    }
    const laid = this.lay(track, 0, { start: -Infinity, end: Infinity });
    return laid.flatMap(({ piece, before }, index): Line[] =>
      this.line(piece, before, laid[index - 1]?.piece ?? null, laid[index + 1]?.before ?? null, channel),
    );
  }

  /** Events of a track in order; nested timelines with one picture track are opened. */
  private lay(track: Track, offset: number, window: { start: number; end: number }): LaidAfter[] {
    const out: LaidAfter[] = [];
    let before: Transition | null = null;
    for (const item of track.items) {
      if (item.type === 'transition') {
        before = this.shownWhole(item, window) ? item : null;
        continue;
      }
      const start = Math.max(item.start, window.start) + offset;
      const end = Math.min(item.start + item.durationFrames, window.end) + offset;
      if (end > start) {
        const headFrames = start - offset - item.start;
        const off = item.type !== 'gap' && !item.enabled;
        if (off) this.losses.find('edl-disabled', item.name, (list) => `Switched off, so not written: ${list}.`);
        if (item.type === 'gap' || off) out.push({ piece: { start, end, headFrames, event: null, stand: '' }, before });
        else if (item.type === 'clip') out.push({ piece: { start, end, headFrames, event: item, stand: '' }, before });
        else out.push(...this.nested(item, track.kind, { start, end, headFrames }, before));
      }
      before = null;
    }
    if (before) this.losses.find('edl-last-transition', before.name, (list) => `A transition with nothing after it is not written: ${list}.`);
    return out;
  }

  /** Whether a transition lies wholly inside a window; one that is cut by its edge has no form in a list. */
  private shownWhole(transition: Transition, window: { start: number; end: number }): boolean {
    const r = this.timeline.rate;
    const [from, to] = [transition.start - ceilFrames(transition.inOffset, r), transition.start + ceilFrames(transition.outOffset, r)];
    if (from >= window.start && to <= window.end) return true;
    if (from < window.end && to > window.start)
      this.losses.find('edl-cut-transition', transition.name, (list) => `Cut by the edge of a nested timeline, so written as cuts: ${list}.`);
    return false;
  }

  private nested(item: NestedStack, kind: Track['kind'], place: Pick<Laid, 'start' | 'end' | 'headFrames'>, before: Transition | null): LaidAfter[] {
    const { start, end } = place;
    const name = item.name || 'Nested timeline';
    const own = item.tracks.filter((track) => track.kind === kind && track.enabled);
    const isSteady = !item.map && !item.retimeUnknown;
    const isFlattened = own.length > 1 && this.flattensNested;
    if (isSteady && (own.length === 1 || isFlattened)) {
      const isPlain = isNormal(item.speed);
      if (!isPlain)
        this.losses.find(
          'edl-nested-speed',
          name,
          (list) => `Nested timelines with a speed of their own are written as the events inside them, each at that speed: ${list}.`,
          false,
          'Source points between two frames are written to the frame below.',
        );
      else if (!isFlattened)
        this.losses.find('edl-nested-opened', name, (list) => `Nested timelines are written as the events inside them: ${list}.`, false);
      const others = item.tracks.filter((track) => track.kind !== kind).map((track) => track.kind);
      for (const other of new Set(others))
        this.losses.find(NOT_INSIDE[other].code, name, (list) => `${NOT_INSIDE[other].what} inside nested timelines is not written: ${list}.`);
      const one = (layers: readonly LaidAfter[][]) => (isFlattened ? this.flattened(layers, name, kind) : layers[0]!);
      const inside = isPlain
        ? one(this.layersInside(own, item, place))
        : this.atSpeed(item, place, (shown) => one(own.map((track) => this.lay(track, 0, shown))));
      // What leads into the nested timeline leads into its first event.
      return inside.map((entry, index) => (index === 0 && before ? { ...entry, before } : entry));
    }
    this.losses.find('edl-nested', name, (list) => `Written as one event without a source, because a list has no ${isSteady ? 'layers' : 'speed that varies'}: ${list}.`); // prettier-ignore
    return [{ piece: { start, end, headFrames: 0, event: null, stand: name }, before }];
  }

  private layersInside(
    tracks: readonly Track[],
    item: NestedStack,
    { start, end, headFrames }: Pick<Laid, 'start' | 'end' | 'headFrames'>,
  ): LaidAfter[][] {
    const from = item.windowStart + headFrames;
    return tracks.map((track) => this.lay(track, start - from, { start: from, end: from + (end - start) }));
  }

  /** What lies inside a nested timeline that has a speed of its own. A transition in it would last a part of a frame: it is a cut. */
  private atSpeed(
    item: NestedStack,
    { start, end, headFrames }: Pick<Laid, 'start' | 'end' | 'headFrames'>,
    inside: (shown: { start: number; end: number }) => LaidAfter[],
  ): LaidAfter[] {
    const shown = { start: headFrames, end: headFrames + end - start };
    const laid = inside(shownInside(item, shown));
    for (const { before } of laid)
      if (before) this.losses.find('edl-cut-transition', before.name, (list) => `Inside a nested timeline with a speed of its own, so written as cuts: ${list}.`); // prettier-ignore
    const pieces = atSpeedOf(item, laid.map(({ piece }) => piece), shown); // prettier-ignore
    return pieces.map((piece) => ({
      piece: { ...piece, start: piece.start + start - headFrames, end: piece.end + start - headFrames },
      before: null,
    }));
  }

  /** Several tracks as one: of pictures the topmost, of sounds the first that is heard. */
  private flattened(layers: readonly (readonly LaidAfter[])[], name: string, kind: Track['kind']): LaidAfter[] {
    const { laid, covered, lostTransitions } = flatten(kind === 'audio' ? [...layers].reverse() : layers);
    const kept = kind === 'audio' ? 'the first sound' : 'the topmost picture';
    this.losses.find(FLATTENED[kind], name, (list) => `Nested timelines with layers are flattened to ${kept} of each moment: ${list}.`, true, 'What lies above may let something below be seen. Compare the result.'); // prettier-ignore
    for (const { event, stand } of covered) this.losses.find('edl-flattened-covered', event?.name ?? stand, (list) => `Covered by layers above, so not written: ${list}.`); // prettier-ignore
    for (const transition of lostTransitions) this.losses.find('edl-cut-transition', transition.name, (list) => `Between layers of a nested timeline, so written as cuts: ${list}.`); // prettier-ignore
    return [...laid];
  }

  private line(piece: Laid, before: Transition | null, previous: Laid | null, following: Transition | null, channel: string): Line[] {
    const r = this.timeline.rate;
    const early = before ? ceilFrames(before.inOffset, r) : 0;
    const late = before ? ceilFrames(before.outOffset, r) : 0;
    // The next event's transition takes over before the cut.
    const cutBack = following ? ceilFrames(following.inOffset, r) : 0;
    if (!piece.event && piece.stand === '' && !before) return [];
    const start = piece.start - early;
    const end = piece.end - cutBack;
    if (end <= start) {
      this.losses.find('edl-covered', piece.event?.name ?? piece.stand, (list) => `Wholly covered by transitions, so not written: ${list}.`);
      return [];
    }
    const own = this.source(piece, start, end);
    const record = (frame: number) => this.timeline.startFrame + frame;
    const [column, after] = channelColumn(channel);
    const rows: Line['rows'][number][] = [];
    const kind = before ? this.transition(before, early + late) : 'C';
    if (before && previous) {
      const from = this.source(previous, start, start);
      rows.push({ reel: from.reel, channel: column, kind: 'C', times: [from.in, from.in, record(start), record(start)], count: from.count });
    } else if (before) {
      rows.push({ reel: BLACK, channel: column, kind: 'C', times: [0, 0, record(start), record(start)], count: this.ownCount() });
    }
    rows.push({ reel: own.reel, channel: column, kind, times: [own.in, own.out, record(start), record(end)], count: own.count });
    const names = before
      ? [...(previous?.event ? [`* FROM CLIP NAME: ${oneLine(previous.event.name)}`] : []), ...(own.name ? [`* TO CLIP NAME: ${own.name}`] : [])]
      : own.name
        ? [`* FROM CLIP NAME: ${own.name}`]
        : [];
    return [{ recordIn: start, rows, after: [...after, ...own.after, ...names, ...own.comments] }];
  }

  /** `D    012`, `W001 012`. */
  private transition(transition: Transition, frames: number): string {
    const { code, name } = transition;
    if (code === '' && !/dissolve|^$/i.test(name)) this.losses.find('edl-transition', name, (list) => `Written as dissolves: ${list}.`);
    if (frames > MOST_EVENTS) this.losses.find('edl-long-transition', name, (list) => `Longer than ${MOST_EVENTS} frames and cut to that: ${list}.`);
    return `${(code || 'D').padEnd(4)} ${String(Math.min(MOST_EVENTS, frames)).padStart(3, '0')}`;
  }

  /**
   * Source in and out, record in and out, as labels can say them: a source before 00:00:00:00 is moved to it, with a
   * finding. What runs over midnight goes on at 00:00:00:00, and readers take an out point below the in point for that.
   */
  private labels(
    reel: string,
    [sourceIn, sourceOut, recordIn, recordOut]: readonly [number, number, number, number],
    count: SourceCounting,
  ): number[] {
    const day = framesPerDay(this.timeline.rate, this.timeline.dropFrame);
    if (sourceIn < 0)
      this.losses.find('edl-before-midnight', reel, (list) => `Source timecode below 00:00:00:00 cannot be written, it begins there: ${list}.`);
    if (sourceOut > framesPerDay(count.rate, count.dropFrame) || recordOut > day)
      this.losses.find('edl-midnight', reel, (list) => `Runs over midnight, where labels begin again at 00:00:00:00: ${list}.`, false);
    const shift = Math.max(0, -sourceIn);
    return [sourceIn + shift, sourceOut + shift, recordIn, recordOut];
  }

  private ownCount(): SourceCounting {
    return { rate: this.timeline.rate, dropFrame: this.timeline.dropFrame, isByFrame: false };
  }

  /** Points and words of what lies on the record part [start, end). */
  private source(piece: Laid, start: number, end: number) {
    const nothing = { in: 0, out: end - start, name: '', after: [] as string[], comments: [] as string[], count: this.ownCount() };
    if (!piece.event) return piece.stand === '' ? { ...nothing, reel: BLACK } : { ...nothing, reel: AUXILIARY, name: oneLine(piece.stand) };
    const { event } = piece;
    const active = activeReference(event);
    if (active?.kind === 'generator' || active?.kind === 'unknown') {
      const made = [...MADE].find(([, makes]) => makes.toLowerCase() === active.makes?.toLowerCase())?.[0];
      if (!made)
        this.losses.find('edl-generator', event.name, (list) => `Made by the editing tool, so written without a source (${AUXILIARY}): ${list}.`);
      return { ...nothing, reel: made ?? AUXILIARY, name: oneLine(event.name || active.makes || '') };
    }
    const { reel: fullReel, file, offsetFrames, count = this.ownCount() } = this.sourceOf(event);
    const reel = fullReel ? this.reels.short(fullReel) : AUXILIARY;
    const own = this.speed(event);
    const speed = piece.pace ? timesPace(own, piece.pace) : own;
    const counted = count.isByFrame ? event.units : count.rate;
    const inFrame = count.isByFrame ? floorFrames(event.sourceIn, counted) : this.atRate(event.sourceIn, event.units, counted);
    const part = isNormal(speed) ? new Fraction(0) : exactFrames(event.sourceIn, counted).sub(inFrame);
    const first = inFrame + offsetFrames;
    const into = start - piece.start + piece.headFrames;
    const read = piece.pace
      ? { ...pacedRead(own, piece.pace, event.durationFrames, start - piece.start, end - piece.start, this.timeline.rate, count), between: 0 }
      : sourceRead(speed, event.durationFrames, [into, into + end - start], part, this.timeline.rate, count);
    if (!sameRate(count.rate, this.timeline.rate))
      this.losses.find(
        'edl-source-count',
        `${file || event.name} (${rateLabel(count.rate)} fps)`,
        (list) => `Source timecode is counted in frames of each source: ${list}. The list runs at ${rateLabel(this.timeline.rate)} fps.`,
        false,
        'Choose frames of the list if the receiving system wants those.',
      );
    const sourceIn = first + read.start;
    if (end > start) this.lostOf(event);
    const comments = [
      ...(file === '' ? [] : [`* SOURCE FILE: ${oneLine(file)}`]),
      ...(fullReel && fullReel !== reel ? [`* FULL REEL NAME: ${oneLine(fullReel)}`] : []),
      ...event.markers.map((marker) => this.locator(marker, event, piece, own)).filter((text) => text !== ''),
    ];
    const out = end === start ? sourceIn : first + read.end;
    return {
      reel,
      in: sourceIn,
      out,
      name: oneLine(event.name),
      after: isNormal(speed) ? [] : [...speedLines(reel, speed, sourceIn, count, this.timeline.rate), ...betweenLine(read.between)],
      comments,
      count,
    };
  }

  /** What of an event has no line in a list. */
  private lostOf(event: ClipEvent): void {
    for (const effect of event.otherEffects)
      this.losses.find('edl-effects', `${effect} on ${event.name}`, (list) => `Effects are not written: ${list}.`);
    if (event.references.length > 1)
      this.losses.find('edl-references', event.name, (list) => `Only the active reference is written; others of ${list} are not.`, false);
  }

  private speed(event: ClipEvent): Speed {
    if (event.retimeUnknown) this.losses.find('edl-effect', event.name, (list) => `An effect that changes time cannot be written: ${list}.`);
    if (!event.map) return event.speed;
    this.losses.find('edl-varying', event.name, (list) => `Speed that varies is written as its average: ${list}.`);
    const frames = Math.max(1, ceilFrames(event.sourceDuration, event.units));
    return averageSpeed(event.map, frames);
  }

  private atRate(m: Moment, units: Rate, r: Rate): number {
    if (!sameRate(units, r) && ceilFrames(m, r) !== floorFrames(m, r))
      this.losses.find('edl-rate', this.timeline.name, (list) => `Source points of ${list} that lie between frames are written to the frame below.`);
    return floorFrames(m, r);
  }

  private locator(marker: Marker, event: ClipEvent, piece: Laid, speed: Speed): string {
    const { rate, dropFrame, startFrame } = this.timeline;
    const lost = () => {
      this.losses.find('edl-locators', event.name, (list) => `Marks outside what is shown, or on held frames, are not written: ${list}.`, false);
      return '';
    };
    if (speed.num === 0) return lost();
    const at = floorFrames(marker.at, rate) - floorFrames(event.sourceIn, rate);
    const passed =
      speed.num < 0 ? sourceRead(speed, event.durationFrames, [0, event.durationFrames], new Fraction(0), rate, this.ownCount()).end - 1 - at : at;
    const frame = Math.floor((passed * speed.den) / Math.abs(speed.num));
    if (piece.pace?.speed.equals(0)) return lost();
    const record =
      piece.start +
      (piece.pace ? Number(new Fraction(frame - piece.pace.frameAt(0)).div(piece.pace.speed).ceil().valueOf()) : frame - piece.headFrames);
    if (record < piece.start || record >= piece.end) return lost();
    const words = [marker.name, marker.note].filter((text) => text !== '').join(': ');
    return `* LOC: ${frameToTimecode(startFrame + record, rate, dropFrame)} ${(marker.colour || 'RED').padEnd(7)} ${oneLine(words)}`.trimEnd();
  }

  generalFindings(soundTracks: number): void {
    const { tracks, markers } = this.timeline;
    if (soundTracks > MOST_SOUND_TRACKS)
      for (const track of tracks.filter((entry) => entry.kind === 'audio').slice(MOST_SOUND_TRACKS))
        this.losses.find('edl-sound', track.name, (list) => `A list holds four sound tracks; not written: ${list}.`);
    for (const track of tracks.filter((entry) => entry.kind === 'other'))
      this.losses.find('edl-other', track.name, (list) => `Neither picture nor sound, so not written: ${list}.`);
    if (markers.length > 0)
      this.losses.find(
        'edl-markers',
        String(markers.length),
        (list) => `Marks on the timeline itself are not written (${list}); those on events are.`,
      );
    if (nominalFps(this.timeline.rate) > 100)
      this.losses.find(
        'edl-fast',
        this.timeline.name,
        () => 'At more than 100 frames a second the frames take three digits, which few readers expect.',
      );
  }
}
