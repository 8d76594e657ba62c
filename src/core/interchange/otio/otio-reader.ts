/** OTIO JSON into timelines. Walks the document once; what it does not know it leaves in place and reports. */
import { warns, notes, stops, type Finding } from '../../planning/finding';
import { LengthSum, ceilFrames, floorFrames, moment, type Moment } from '../../project/moment';
import type { ClipEvent, MediaReference, NestedStack, Timeline, Track, TrackItem } from '../../project/timeline';
import { canDropFrame, rateFromNumber, type Rate } from '../../time/rate';
import { NORMAL_SPEED, speedFromNumber, type Speed } from '../../time/retime';
import { childrenOf, isObject, referencesOf, schemaName, type Json, type OtioObject } from './otio-types';

export const DEEPEST_NESTING = 64;

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
  let root: unknown;
  try {
    root = JSON.parse(text.charCodeAt(0) === 0xfeff ? text.slice(1) : text);
  } catch (error) {
    return { timelines: [], clips: [], findings: [jsonFinding(text, error)] };
  }
  return readOtioDocument(root, projectRate);
}

function jsonFinding(text: string, error: unknown): Finding {
  const message = error instanceof Error ? error.message : String(error);
  const at = errorPosition(text, message);
  const before = text.slice(0, at).split('\n');
  const where = `line ${before.length}, column ${before.at(-1)!.length + 1}`;
  if (/end of JSON|Unterminated/i.test(message) || at >= text.trimEnd().length) {
    return stops(
      'otio-truncated',
      'The file ends in the middle: it is only part of an OTIO document.',
      'Export the timeline again, or copy the file again.',
      where,
    );
  }
  return stops(
    'otio-not-json',
    'This is not OTIO: the text is not JSON.',
    'Choose a file written as OpenTimelineIO (.otio) or a CMX 3600 list (.edl).',
    where,
  );
}

/** Where the parser stopped: it tells a position, or quotes the text around it, or (at the end) neither. */
function errorPosition(text: string, message: string): number {
  const position = /position (\d+)/.exec(message);
  if (position) return Number(position[1]);
  const quoted = /^Unexpected token '(.*?)', (?:\.\.\.)?"(.*)"(?:\.\.\.)? is not valid JSON$/s.exec(message);
  if (!quoted) return text.length;
  const begin = Math.max(0, text.indexOf(quoted[2]!));
  return begin + Math.max(0, quoted[2]!.indexOf(quoted[1]!));
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

class Reader {
  readonly timelines: OtioTimeline[] = [];
  readonly clips: OtioClip[] = [];
  readonly findings: Finding[] = [];
  private nextIndex = 0;
  private timelineRate: Rate;

  constructor(private readonly projectRate: Rate) {
    this.timelineRate = projectRate;
  }

  root(node: OtioObject, path: string, bins: readonly string[]): void {
    if (bins.length > DEEPEST_NESTING) return this.tooDeep(path);
    switch (schemaName(node)) {
      case 'Timeline':
        this.timelines.push({ timeline: this.timeline(node, path), document: node, bins });
        return;
      case 'Stack': {
        const wrapped: OtioObject = { OTIO_SCHEMA: 'Timeline.1', name: text(node.name), metadata: {}, global_start_time: null, tracks: node };
        this.timelines.push({ timeline: this.timeline(wrapped, path), document: wrapped, bins });
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

  private timeline(node: OtioObject, path: string): Timeline {
    this.nextIndex = 0;
    const start = this.moment(node.global_start_time, `${path}.global_start_time`);
    this.timelineRate = start?.rate ?? this.firstRate(node.tracks) ?? this.projectRate;
    const stack = isObject(node.tracks) ? node.tracks : {};
    if (!isObject(node.tracks))
      this.findings.push(stops('otio-no-tracks', `Timeline "${text(node.name)}" has no tracks.`, 'Export it again.', `${path}.tracks`));
    const tracks = this.tracks(stack, `${path}.tracks`, 0);
    const metadata = isObject(node.metadata) ? node.metadata : {};
    const own = isObject(metadata.mill_shelf) ? metadata.mill_shelf : {};
    return {
      name: text(node.name) || 'Untitled timeline',
      rate: this.timelineRate,
      dropFrame: canDropFrame(this.timelineRate) && own.drop_frame !== false,
      startFrame: start ? floorFrames(start, this.timelineRate) : 0,
      durationFrames: longest(tracks),
      tracks,
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
      if (schemaName(child) === 'Track') return [this.track(child, at, depth, index)];
      // A clip or stack straight in a stack is a track of its own.
      return [{ name: text(child.name), kind: 'video', enabled: child.enabled !== false, items: this.items([child], at, depth) }];
    });
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
      const start = position.floorAt(this.timelineRate);
      const placed = (length: Moment) => {
        position.add(length);
        return { name: text(child.name), start, durationFrames: position.floorAt(this.timelineRate) - start };
      };
      switch (schemaName(child)) {
        case 'Clip':
          out.push(this.clip(child, at, placed));
          return;
        case 'Gap':
          out.push({ type: 'gap', ...placed(this.range(child.source_range, `${at}.source_range`)?.duration ?? this.zero()) });
          return;
        case 'Transition': {
          const inOffset = this.moment(child.in_offset, `${at}.in_offset`) ?? this.zero();
          const outOffset = this.moment(child.out_offset, `${at}.out_offset`) ?? this.zero();
          const durationFrames = ceilFrames(inOffset, this.timelineRate) + ceilFrames(outOffset, this.timelineRate);
          out.push({ type: 'transition', name: text(child.name), start, durationFrames, inOffset, outOffset });
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
          out.push({ type: 'gap', ...placed(this.range(child.source_range, at)?.duration ?? this.zero()) });
      }
    });
    return out;
  }

  private clip(node: OtioObject, path: string, placed: (length: Moment) => { name: string; start: number; durationFrames: number }): ClipEvent {
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
    return {
      type: 'clip',
      index: this.nextIndex++,
      ...placed(length),
      enabled: node.enabled !== false,
      sourceIn,
      sourceDuration: length,
      speed: this.speed(node.effects, path),
      markerCount: Array.isArray(node.markers) ? node.markers.length : 0,
      references,
      activeKey,
    };
  }

  private nested(
    node: OtioObject,
    path: string,
    depth: number,
    placed: (length: Moment) => { name: string; start: number; durationFrames: number },
  ): NestedStack {
    const inner = schemaName(node) === 'Timeline' && isObject(node.tracks) ? node.tracks : node;
    const tracks = schemaName(node) === 'Track' ? [this.track(node, path, depth + 1, 0)] : this.tracks(inner, path, depth + 1);
    const range = this.range(node.source_range, `${path}.source_range`);
    const speed = this.speed(node.effects, path);
    return {
      type: 'nested',
      ...placed(range?.duration ?? { value: longest(tracks), rate: this.timelineRate }),
      enabled: node.enabled !== false,
      windowStart: range ? floorFrames(range.start, this.timelineRate) : 0,
      speed,
      tracks,
    };
  }

  private reference(key: string, node: OtioObject, path: string): MediaReference {
    const available = this.range(node.available_range, `${path}.available_range`);
    const metadata = isObject(node.metadata) ? node.metadata : {};
    const own = isObject(metadata.mill_shelf) ? metadata.mill_shelf : {};
    const base = {
      key,
      name: text(node.name),
      url: null,
      availableStart: available?.start ?? null,
      availableDuration: available?.duration ?? null,
      sequence: null,
      reel: typeof own.reel === 'string' && own.reel !== '' ? own.reel : null,
    };
    switch (schemaName(node)) {
      case 'ExternalReference':
        return { ...base, kind: 'external', url: text(node.target_url) };
      case 'ImageSequenceReference': {
        const sequence = {
          folderUrl: text(node.target_url_base),
          prefix: text(node.name_prefix),
          suffix: text(node.name_suffix),
          padding: count(node.frame_zero_padding),
          startNumber: count(node.start_frame),
          step: Math.max(1, count(node.frame_step)),
        };
        return { ...base, kind: 'sequence', sequence, url: `${sequence.folderUrl}/${sequence.prefix}#${sequence.suffix}` };
      }
      case 'GeneratorReference':
        return { ...base, kind: 'generator' };
      case 'MissingReference':
        return { ...base, kind: 'missing' };
      default:
        return { ...base, kind: 'unknown' };
    }
  }

  private speed(effects: Json | undefined, path: string): Speed {
    let speed = NORMAL_SPEED;
    if (!Array.isArray(effects)) return speed;
    effects.forEach((effect, index) => {
      if (!isObject(effect) || effect.enabled === false) return;
      if (schemaName(effect) === 'FreezeFrame') speed = { num: 0, den: 1 };
      if (schemaName(effect) !== 'LinearTimeWarp') return;
      try {
        const own = speedFromNumber(typeof effect.time_scalar === 'number' ? effect.time_scalar : 1);
        speed = { num: speed.num * own.num, den: speed.den * own.den };
      } catch {
        this.findings.push(
          warns(
            'otio-bad-speed',
            `The speed ${JSON.stringify(effect.time_scalar)} cannot be used; the event counts at normal speed.`,
            undefined,
            `${path}.effects[${index}]`,
          ),
        );
      }
    });
    return speed;
  }

  private range(node: Json | undefined, path: string): { start: Moment; duration: Moment } | null {
    if (!isObject(node)) return null;
    const start = this.moment(node.start_time, `${path}.start_time`);
    const duration = this.moment(node.duration, `${path}.duration`);
    if (!start || !duration) return null;
    if (duration.value < 0) {
      this.findings.push(warns('otio-negative-length', 'A length below 0 counts as 0.', undefined, `${path}.duration`));
      return { start, duration: { value: 0, rate: duration.rate } };
    }
    return { start, duration };
  }

  private moment(node: Json | undefined, path: string): Moment | null {
    if (!isObject(node)) return null;
    const { value, rate: units } = node;
    if (typeof value !== 'number' || typeof units !== 'number' || !Number.isFinite(value) || Math.abs(value) > 1e13 || !(units > 0) || units > 1e9) {
      this.findings.push(
        warns('otio-bad-time', `${JSON.stringify(value)} at rate ${JSON.stringify(units)} is not a time; it was passed over.`, undefined, path),
      );
      return null;
    }
    return moment(value, rateFromNumber(units));
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

function text(value: Json | undefined): string {
  return typeof value === 'string' ? value : '';
}

function count(value: Json | undefined): number {
  return typeof value === 'number' && Number.isFinite(value) ? Math.trunc(value) : 0;
}
