/** OTIO JSON into timelines. Walks the document once; what it does not know it leaves in place and reports. */
import { warns, notes, stops, type Finding } from '../../words/finding';
import { LengthSum, ceilFrames, floorFrames, type Moment } from '../../project/moment';
import type { ClipEvent, NestedStack, Timeline, Track, TrackItem } from '../../project/timeline';
import { canDropFrame, isRateNumber, rateFromNumber, type Rate } from '../../time/rate';
import { NORMAL_SPEED } from '../../time/retime';
import { eventCount } from './counted-clip';
import { parseOtioText } from './otio-text';
import { childrenOf, DEEPEST_NESTING, isObject, referencesOf, schemaName, type Json, type OtioObject } from './otio-types';
import { OtioValues, ownMetadata, text } from './otio-values';

export interface OtioTimeline {
  readonly timeline: Timeline;
  /** The timeline's own JSON: what is kept and written out again. */
  readonly document: OtioObject;
  /** Names of the bins (collections) around it, outermost first. */
  readonly bins: readonly string[];
}

export interface OtioClip {
  readonly document: OtioObject;
  readonly bins: readonly string[];
}

export interface OtioContent {
  readonly timelines: readonly OtioTimeline[];
  /** Clips that stand in a bin and on no timeline. */
  readonly clips: readonly OtioClip[];
  readonly findings: readonly Finding[];
}

/** Reads the text of an .otio file. Never throws: what cannot be read is a finding with its JSON path or line. */
export function readOtio(text: string, projectRate: Rate): OtioContent {
  const parsed = parseOtioText(text);
  return 'finding' in parsed ? { timelines: [], clips: [], findings: [parsed.finding] } : readOtioDocument(parsed.root, projectRate);
}

export function readOtioDocument(root: unknown, projectRate: Rate): OtioContent {
  const reader = new Reader(projectRate);
  if (!isObject(root) || schemaName(root) === '') {
    reader.findings.push(
      stops('otio-no-schema', 'This JSON is not OTIO: the outermost object names no OTIO_SCHEMA.', 'Export as OpenTimelineIO.', '$'),
    );
  } else {
    reader.root(root, '$', []);
    if (reader.timelines.length + reader.clips.length === 0 && reader.findings.length === 0) {
      reader.findings.push(
        stops('otio-empty', `Nothing to bring in: a ${schemaName(root)} without timelines or clips.`, 'Export the timeline itself.', '$'),
      );
    }
  }
  return { timelines: reader.timelines, clips: reader.clips, findings: reader.findings };
}

/** The model of one timeline's own JSON, as kept in the catalogue. */
export function readTimeline(document: unknown, projectRate: Rate): Timeline | null {
  return readOtioDocument(document, projectRate).timelines[0]?.timeline ?? null;
}

interface Placed {
  readonly name: string;
  readonly start: number;
  readonly durationFrames: number;
  readonly aligned: boolean;
}
/** All of what is inside. */
const WHOLE_WINDOW = { windowStart: 0, windowAligned: true };

function countOf(clip: OtioObject): Pick<ClipEvent, 'count'> {
  const count = eventCount(clip);
  return count ? { count } : {};
}

class Reader extends OtioValues {
  readonly timelines: OtioTimeline[] = [];
  readonly clips: OtioClip[] = [];
  private nextIndex = 0;
  private timelineRate: Rate;

  constructor(private readonly projectRate: Rate) {
    super();
    this.timelineRate = projectRate;
  }

  root(node: OtioObject, path: string, bins: readonly string[]): void {
    if (bins.length > DEEPEST_NESTING) return this.tooDeep(path);
    switch (schemaName(node)) {
      case 'Timeline':
        this.add(node, path, bins);
        return;
      case 'Stack': {
        const wrapped: OtioObject = { OTIO_SCHEMA: 'Timeline.1', name: text(node.name), metadata: {}, global_start_time: null, tracks: node };
        this.add(wrapped, path, bins);
        return;
      }
      case 'SerializableCollection': {
        const inside = path === '$' ? bins : [...bins, text(node.name) || 'Bin'];
        childrenOf(node).forEach((child, index) => {
          if (isObject(child)) this.root(child, `${path}.children[${index}]`, inside);
        });
        return;
      }
      case 'Clip':
        this.clips.push({ document: node, bins });
        return;
      default:
        this.findings.push(notes('otio-skipped', `A ${schemaName(node) || 'nameless object'} outside a timeline was left out.`, undefined, path));
    }
  }

  private add(document: OtioObject, path: string, bins: readonly string[]): void {
    const timeline = this.timeline(document, path);
    if (Number.isSafeInteger(timeline.startFrame + timeline.durationFrames)) {
      this.timelines.push({ timeline, document, bins });
      return;
    }
    const message = `Timeline "${timeline.name}" is longer than frames can be counted, so it was left out.`;
    this.findings.push(stops('otio-too-long', message, 'Correct its times and export again.', path));
  }

  private timeline(node: OtioObject, path: string): Timeline {
    this.nextIndex = 0;
    const start = this.moment(node.global_start_time, `${path}.global_start_time`);
    this.timelineRate = start?.rate ?? this.firstRate(node.tracks) ?? this.projectRate;
    const stack = isObject(node.tracks) ? node.tracks : {};
    if (!isObject(node.tracks))
      this.findings.push(stops('otio-no-tracks', `Timeline "${text(node.name)}" has no tracks.`, 'Export it again.', `${path}.tracks`));
    const tracks = this.tracks(stack, `${path}.tracks`, 0).map((track) => this.windowed(track, stack, `${path}.tracks`));
    const own = ownMetadata(node);
    return {
      name: text(node.name) || 'Untitled timeline',
      rate: this.timelineRate,
      dropFrame: canDropFrame(this.timelineRate) && own.drop_frame !== false,
      startFrame: start ? floorFrames(start, this.timelineRate) : 0,
      durationFrames: longest(tracks),
      tracks,
      markers: this.markers(stack.markers, `${path}.tracks`),
      eventCount: this.nextIndex,
    };
  }

  /** Without a global start time the first time of a picture track says the rate. */
  private firstRate(node: Json | undefined, depth = 0): Rate | null {
    if (!isObject(node) || depth > DEEPEST_NESTING) return null;
    for (const child of childrenOf(node)) {
      if (!isObject(child) || child.kind === 'Audio') continue;
      const range = isObject(child.source_range) ? child.source_range : null;
      const found = (range && this.moment(range.duration, '')?.rate) || this.firstRate(child, depth + 1);
      if (found && found.num / found.den < 1000) return found;
    }
    return null;
  }

  private tracks(stack: OtioObject, path: string, depth: number): Track[] {
    if (depth > DEEPEST_NESTING) {
      this.tooDeep(path);
      return [];
    }
    return childrenOf(stack).flatMap((child, index): Track[] => {
      const at = `${path}.children[${index}]`;
      if (!isObject(child)) return [];
      if (schemaName(child) === 'Track') return [this.windowed(this.track(child, at, depth, index), child, at)];
      // A clip or stack straight in a stack is a track of its own.
      return [{ name: text(child.name), kind: 'video', enabled: child.enabled !== false, items: this.items([child], at, depth) }];
    });
  }

  /** A track of which only the range that `node` states is shown, or shown at another speed. */
  private windowed(track: Track, node: OtioObject, path: string): Track {
    const range = this.range(node.source_range, `${path}.source_range`);
    const { speed, map, unknown } = this.retime(node.effects, path);
    if (!range && speed === NORMAL_SPEED && !map && !unknown) return track;
    const durationFrames = range ? ceilFrames(range.duration, this.timelineRate) : longest([track]);
    const window = range ? this.window(range, longest([track]), durationFrames, track.name, path) : WHOLE_WINDOW;
    const inner: Track = { ...track, enabled: true };
    const shown: NestedStack = {
      type: 'nested',
      name: track.name,
      start: 0,
      durationFrames,
      aligned: true,
      enabled: true,
      ...window,
      speed,
      map,
      retimeUnknown: unknown,
      tracks: [inner],
    };
    return { ...track, items: [shown] };
  }

  /** Where a window begins. One that lies wholly outside of what it shows is told, or taken for what it is. */
  private window(range: { start: Moment }, lengthFrames: number, windowFrames: number, name: string, path: string): typeof WHOLE_WINDOW {
    const windowStart = floorFrames(range.start, this.timelineRate);
    if (lengthFrames === 0 || (windowStart < lengthFrames && windowStart + windowFrames > 0))
      return { windowStart, windowAligned: ceilFrames(range.start, this.timelineRate) === windowStart };
    // Some writers state the record timecode of a track as its own start.
    if (windowFrames === lengthFrames) {
      const message = `The range of "${name}" begins at its record timecode; it is taken for all of it.`;
      this.findings.push(notes('otio-window-timecode', message, undefined, `${path}.source_range`));
      return WHOLE_WINDOW;
    }
    this.findings.push(
      warns(
        'otio-window-outside',
        `The range of "${name}" lies outside of what it holds, so nothing of it is shown or used.`,
        'Export the timeline again without a range there.',
        `${path}.source_range`,
      ),
    );
    return { windowStart, windowAligned: true };
  }

  private track(node: OtioObject, path: string, depth: number, index: number): Track {
    const kind = node.kind === 'Audio' ? 'audio' : node.kind === 'Video' || node.kind === undefined ? 'video' : 'other';
    return {
      name: text(node.name) || `${kind === 'audio' ? 'A' : 'V'}${index + 1}`,
      kind,
      enabled: node.enabled !== false,
      items: this.items(childrenOf(node), `${path}`, depth),
    };
  }

  private items(children: readonly Json[], path: string, depth: number): TrackItem[] {
    const position = new LengthSum();
    const out: TrackItem[] = [];
    children.forEach((child, index) => {
      const at = `${path}.children[${index}]`;
      if (!isObject(child)) {
        this.findings.push(warns('otio-wrong-type', 'Something that is no object stands on a track; it was passed over.', undefined, at));
        return;
      }
      const begin = position.at(this.timelineRate);
      const start = begin.frame;
      const placed = (length: Moment): Placed => {
        position.add(length);
        const end = position.at(this.timelineRate);
        return { name: text(child.name), start, durationFrames: end.frame - start, aligned: begin.isWhole && end.isWhole };
      };
      switch (schemaName(child)) {
        case 'Clip':
          out.push(this.clip(child, at, placed));
          return;
        case 'Gap':
          out.push(this.gap(placed(this.range(child.source_range, `${at}.source_range`)?.duration ?? this.zero())));
          return;
        case 'Transition': {
          const inOffset = this.moment(child.in_offset, `${at}.in_offset`) ?? this.zero();
          const outOffset = this.moment(child.out_offset, `${at}.out_offset`) ?? this.zero();
          const durationFrames = ceilFrames(inOffset, this.timelineRate) + ceilFrames(outOffset, this.timelineRate);
          const list = isObject(child.metadata) && isObject(child.metadata.cmx_3600) ? child.metadata.cmx_3600 : {};
          const code = /^W\d{1,3}$/.exec(text(list.wipe))?.[0] ?? '';
          const name = text(child.name) || (text(child.transition_type) === 'SMPTE_Dissolve' ? 'dissolve' : text(child.transition_type));
          out.push({ type: 'transition', name, code, start, durationFrames, inOffset, outOffset });
          return;
        }
        case 'Stack':
        case 'Track':
        case 'Timeline':
          out.push(this.nested(child, at, depth, placed));
          return;
        default:
          this.findings.push(
            warns(
              'otio-unknown-schema',
              `"${text(child.OTIO_SCHEMA) || 'an object without a schema'}" is not known here. It is kept in the file and takes the length it states.`,
              undefined,
              at,
            ),
          );
          out.push(this.gap(placed(this.range(child.source_range, at)?.duration ?? this.zero())));
      }
    });
    return out;
  }

  private gap({ name, start, durationFrames }: Placed): TrackItem {
    return { type: 'gap', name, start, durationFrames };
  }

  private clip(node: OtioObject, path: string, placed: (length: Moment) => Placed): ClipEvent {
    const references = referencesOf(node).map(({ key, node: reference }) => this.reference(key, reference, `${path}.media_references.${key}`));
    const activeKey = text(node.active_media_reference_key) || 'DEFAULT_MEDIA';
    const active = references.find((reference) => reference.key === activeKey) ?? references[0];
    const range = this.range(node.source_range, `${path}.source_range`);
    const sourceIn = range?.start ?? active?.availableStart ?? this.zero();
    const sourceDuration = range?.duration ?? active?.availableDuration;
    if (!sourceDuration) {
      this.findings.push(
        warns(
          'otio-no-length',
          `Clip "${text(node.name)}" states neither its source range nor the length of its media; it counts as empty.`,
          'Export with source ranges.',
          path,
        ),
      );
    }
    const length = sourceDuration ?? this.zero();
    const retime = this.retime(node.effects, path);
    const { name, start, durationFrames, aligned } = placed(length);
    return {
      type: 'clip',
      index: this.nextIndex++,
      name,
      start,
      durationFrames,
      aligned,
      enabled: node.enabled !== false,
      sourceIn,
      sourceDuration: length,
      units: isObject(node.source_range) ? this.unitsOf(node.source_range, sourceIn) : sourceIn.rate,
      speed: retime.speed,
      map: retime.map,
      retimeUnknown: retime.unknown,
      otherEffects: retime.others,
      markers: this.markers(node.markers, path),
      references,
      activeKey,
      ...countOf(node),
    };
  }

  private nested(node: OtioObject, path: string, depth: number, placed: (length: Moment) => Placed): NestedStack {
    const inner = schemaName(node) === 'Timeline' && isObject(node.tracks) ? node.tracks : node;
    const isTrack = schemaName(node) === 'Track' && depth < DEEPEST_NESTING;
    const tracks = isTrack ? [this.track(node, path, depth + 1, 0)] : this.tracks(inner, path, depth + 1);
    const range = this.range(node.source_range, `${path}.source_range`);
    const { speed, map, unknown } = this.retime(node.effects, path);
    const lengthFrames = longest(tracks);
    const windowFrames = range ? ceilFrames(range.duration, this.timelineRate) : lengthFrames;
    return {
      type: 'nested',
      ...placed(range?.duration ?? { value: lengthFrames, rate: this.timelineRate }),
      enabled: node.enabled !== false,
      ...(range ? this.window(range, lengthFrames, windowFrames, text(node.name) || 'a nested timeline', path) : WHOLE_WINDOW),
      speed,
      map,
      retimeUnknown: unknown,
      tracks,
    };
  }

  /** The rate a range is stated at; a fractional in point is kept at a finer one. */
  private unitsOf(range: OtioObject, sourceIn: Moment): Rate {
    const stated = isObject(range.start_time) ? range.start_time.rate : undefined;
    return isRateNumber(stated) ? rateFromNumber(stated) : sourceIn.rate;
  }

  private zero(): Moment {
    return { value: 0, rate: this.timelineRate };
  }

  private tooDeep(path: string): void {
    this.findings.push(
      stops(
        'otio-too-deep',
        `Timelines are nested more than ${DEEPEST_NESTING} levels deep; the ones below were left out.`,
        'Flatten the nesting and export again.',
        path,
      ),
    );
  }
}

function longest(tracks: readonly Track[]): number {
  return tracks.reduce((most, track) => {
    const last = track.items.filter((item) => item.type !== 'transition').at(-1);
    return Math.max(most, last ? last.start + last.durationFrames : 0);
  }, 0);
}
