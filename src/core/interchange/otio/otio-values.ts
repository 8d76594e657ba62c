/** The small parts of an OTIO document: times, ranges, speeds, markers, media references. */
import Fraction from 'fraction.js';
import { notes, warns, type Finding } from '../../words/finding';
import { moment, type Moment } from '../../project/moment';
import type { Marker, MediaReference } from '../../project/timeline';
import { isRateNumber, parseRate, rateFromNumber } from '../../time/rate';
import { isNormal, NORMAL_SPEED, speedFromNumber, timeMap, type Retime, type Speed, type TimeMap } from '../../time/retime';
import { isObject, schemaName, type Json, type OtioObject } from './otio-types';
import { readSourceWord } from './source-word';
import { readAddress } from './target-url';

export function text(value: Json | undefined): string {
  return typeof value === 'string' ? value : '';
}

function count(value: Json | undefined): number {
  return typeof value === 'number' && Number.isFinite(value) ? Math.trunc(value) : 0;
}

/** Metadata of our own on an object; empty where there is none. */
export function ownMetadata(node: OtioObject): OtioObject {
  const metadata = isObject(node.metadata) ? node.metadata : {};
  return isObject(metadata.mill_shelf) ? metadata.mill_shelf : {};
}

export interface ReadRetime extends Retime {
  readonly unknown: boolean;
  /** Names of effects that do not change time. */
  readonly others: readonly string[];
}

const REFERENCE_KINDS: ReadonlyMap<string, MediaReference['kind']> = new Map([
  ['ExternalReference', 'external'],
  ['ImageSequenceReference', 'sequence'],
  ['GeneratorReference', 'generator'],
  ['MissingReference', 'missing'],
]);

function sequencePattern(node: OtioObject): NonNullable<MediaReference['sequence']> {
  return {
    folderUrl: text(node.target_url_base),
    prefix: text(node.name_prefix),
    suffix: text(node.name_suffix),
    padding: count(node.frame_zero_padding),
    startNumber: count(node.start_frame),
    step: Math.max(1, count(node.frame_step)),
  };
}

const PLAIN: ReadRetime = { speed: NORMAL_SPEED, map: null, unknown: false, others: [] };

export class OtioValues {
  readonly findings: Finding[] = [];

  reference(key: string, node: OtioObject, path: string): MediaReference {
    const available = this.range(node.available_range, `${path}.available_range`);
    const own = ownMetadata(node);
    const schema = schemaName(node);
    const sequence = schema === 'ImageSequenceReference' ? sequencePattern(node) : null;
    const url = sequence
      ? `${sequence.folderUrl}/${sequence.prefix}#${sequence.suffix}`
      : schema === 'ExternalReference'
        ? text(node.target_url)
        : null;
    // In one go: there are as many of these as events.
    const reference: MediaReference = {
      key,
      kind: REFERENCE_KINDS.get(schema) ?? 'unknown',
      name: text(node.name),
      url,
      availableStart: available?.start ?? statedStart(own),
      availableDuration: available?.duration ?? null,
      sequence,
      reel: typeof own.reel === 'string' && own.reel !== '' ? own.reel : null,
      ...(schema === 'GeneratorReference' ? { makes: text(node.generator_kind) } : {}),
    };
    if (own.source === undefined && own.conform !== 'by-frame') return reference;
    const source = readSourceWord(own, sequence ? sequence.prefix : (readAddress(url ?? '')?.segments.at(-1) ?? ''));
    return { ...reference, ...(source ? { source } : {}), ...(own.conform === 'by-frame' ? { byFrame: true as const } : {}) };
  }

  /** All enabled time effects of an object together. */
  retime(effects: Json | undefined, path: string): ReadRetime {
    if (!Array.isArray(effects) || effects.length === 0) return PLAIN;
    let speed: Speed = NORMAL_SPEED;
    let map: TimeMap | null = null;
    let unknown = false;
    const others: string[] = [];
    effects.forEach((effect, index) => {
      if (!isObject(effect) || effect.enabled === false) return;
      const at = `${path}.effects[${index}]`;
      const schema = schemaName(effect);
      if (schema === 'FreezeFrame') {
        speed = { num: 0, den: 1 };
      } else if (schema === 'LinearTimeWarp') {
        const both = times(speed, this.scalar(effect.time_scalar, at));
        speed = both ?? NORMAL_SPEED;
        if (both) return;
        unknown = true;
        const message = 'The speeds of the effects together cannot be counted exactly.';
        this.findings.push(warns('otio-odd-speeds', message, 'All of the media that the reference states counts as used.', at));
      } else if (schema === 'TimeEffect') {
        map = keyframes(effect);
        if (map) return;
        unknown = true;
        this.findings.push(
          warns(
            'otio-unknown-retime',
            `The effect "${text(effect.effect_name) || text(effect.name) || schema}" changes time in a way it does not tell.`,
            'All of the media that the reference states counts as used.',
            at,
          ),
        );
      } else {
        others.push(text(effect.effect_name) || text(effect.name) || schema || 'an effect');
      }
    });
    return { speed, map, unknown, others };
  }

  private scalar(value: Json | undefined, path: string): Speed {
    try {
      return speedFromNumber(typeof value === 'number' ? value : 1);
    } catch {
      this.findings.push(
        warns('otio-bad-speed', `The speed ${JSON.stringify(value)} cannot be used; the event counts at normal speed.`, undefined, path),
      );
      return NORMAL_SPEED;
    }
  }

  /** Marker.2 has `marked_range`, Marker.1 `range`. */
  markers(list: Json | undefined, path: string): Marker[] {
    if (!Array.isArray(list) || list.length === 0) return [];
    return list.flatMap((node, index): Marker[] => {
      const at = `${path}.markers[${index}]`;
      const range = isObject(node) && schemaName(node) === 'Marker' ? this.range(node.marked_range ?? node.range, `${at}.marked_range`) : null;
      if (!isObject(node) || !range) {
        this.findings.push(notes('otio-bad-marker', 'A marker without a range was passed over; it is kept in the file.', undefined, at));
        return [];
      }
      return [{ name: text(node.name), note: text(node.comment), colour: text(node.color), at: range.start, duration: range.duration }];
    });
  }

  range(node: Json | undefined, path: string): { start: Moment; duration: Moment } | null {
    if (!isObject(node)) return null;
    const start = this.moment(node.start_time, path, '.start_time');
    const duration = this.moment(node.duration, path, '.duration');
    if (!start || !duration) return null;
    if (duration.value < 0) {
      this.findings.push(warns('otio-negative-length', 'A length below 0 counts as 0.', undefined, `${path}.duration`));
      return { start, duration: { value: 0, rate: duration.rate } };
    }
    return { start, duration };
  }

  /** `step`: what comes after `path`, put together only where there is something to say. */
  moment(node: Json | undefined, path: string, step = ''): Moment | null {
    if (!isObject(node)) return null;
    const { value, rate: units } = node;
    if (typeof value !== 'number' || !Number.isFinite(value) || Math.abs(value) > 1e13 || !isRateNumber(units)) {
      this.findings.push(
        warns(
          'otio-bad-time',
          `${JSON.stringify(value)} at rate ${JSON.stringify(units)} is not a time; it was passed over.`,
          undefined,
          `${path}${step}`,
        ),
      );
      return null;
    }
    return moment(value, rateFromNumber(units));
  }
}

/** A list without lengths may still tell where its media begins. */
function statedStart(own: OtioObject): Moment | null {
  const rate = typeof own.start_rate === 'string' ? parseRate(own.start_rate) : null;
  return rate && typeof own.start_frame === 'number' && Number.isSafeInteger(own.start_frame) ? { value: own.start_frame, rate } : null;
}

/** Exactly; null where the fraction grows beyond whole numbers that can be counted with. */
function times(a: Speed, b: Speed): Speed | null {
  if (isNormal(a)) return b;
  const product = new Fraction(BigInt(a.num), BigInt(a.den)).mul(new Fraction(BigInt(b.num), BigInt(b.den)));
  const [num, den] = [Number(product.s * product.n), Number(product.d)];
  return Number.isSafeInteger(num) && Number.isSafeInteger(den) ? { num, den } : null;
}

/** Our own form of a speed that varies: `speed_keys` or `position_keys`, pairs of record frame and value. */
function keyframes(effect: OtioObject): TimeMap | null {
  const own = ownMetadata(effect);
  for (const of of ['position', 'speed'] as const) {
    const pairs = own[`${of}_keys`];
    if (!Array.isArray(pairs)) continue;
    const keys = pairs.map((pair) => (Array.isArray(pair) ? { frame: Number(pair[0]), value: Number(pair[1]) } : { frame: NaN, value: NaN }));
    return timeMap(of, keys);
  }
  return null;
}
