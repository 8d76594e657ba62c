/**
 * A few hundred random timelines each way between us and the CMX 3600 adapter 1.0.0 of OpenTimelineIO 0.18.1: what we
 * write it reads, what it writes we read. What must come out is reckoned here, from the timeline, with fractions.
 * MILL_SEED takes other timelines than those of every day.
 */
import { execFileSync } from 'node:child_process';
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join, resolve } from 'node:path';
import fc from 'fast-check';
import Fraction from 'fraction.js';
import { afterAll, describe, expect, it } from 'vitest';
import { writeEdl } from '../../src/core/interchange/edl/edl-writer';
import type { Json } from '../../src/core/interchange/otio/otio-types';
import {
  clipDocument,
  externalReference,
  gapDocument,
  rationalTime,
  timelineDocument,
  timeRange,
  timeWarp,
  trackDocument,
  transitionDocument,
} from '../../src/core/interchange/otio/otio-writer';
import { readTimelineFile } from '../../src/core/interchange/read-timeline-file';
import { floorFrames } from '../../src/core/project/moment';
import { activeReference } from '../../src/core/project/timeline';
import { canDropFrame, rate, rateAsNumber, type Rate } from '../../src/core/time/rate';

const folder = mkdtempSync(join(tmpdir(), 'mill-random-'));
afterAll(() => rmSync(folder, { recursive: true }));

const HOW_MANY = 250;
const seed = Number(process.env.MILL_SEED ?? 3600);
const RATES = [rate(24), rate(25), rate(30), rate(24_000, 1001), rate(30_000, 1001), rate(50), rate(60_000, 1001)];

interface Shot {
  readonly name: string;
  readonly sourceIn: number;
  readonly frames: number;
  readonly speed: readonly [number, number];
  /** Frames of a transition into it, before and after the cut. */
  readonly into: readonly [number, number] | null;
  readonly gapBefore: number;
}
interface Cut {
  readonly rate: Rate;
  readonly drop: boolean;
  readonly start: number;
  readonly tracks: readonly (readonly Shot[])[];
}

const shot = (speeds: readonly (readonly [number, number])[]): fc.Arbitrary<Shot> =>
  fc.record({
    name: fc.constantFrom('LADLE', 'Bell pit, wide', 'A003_C011', 'Pour 2', 'Tuning fork'),
    sourceIn: fc.integer({ min: 100_000, max: 900_000 }),
    frames: fc.integer({ min: 30, max: 120 }),
    speed: fc.oneof({ weight: 3, arbitrary: fc.constant([1, 1] as const) }, { weight: 2, arbitrary: fc.constantFrom(...speeds) }),
    into: fc.option(fc.tuple(fc.nat(12), fc.integer({ min: 1, max: 12 })), { freq: 3, nil: null }),
    gapBefore: fc.oneof({ weight: 3, arbitrary: fc.constant(0) }, { weight: 1, arbitrary: fc.integer({ min: 1, max: 40 }) }),
  });
const cut = (speeds: readonly (readonly [number, number])[]): fc.Arbitrary<Cut> =>
  fc.record({
    rate: fc.constantFrom(...RATES),
    drop: fc.boolean(),
    start: fc.integer({ min: 0, max: 1_000_000 }),
    tracks: fc.array(fc.array(shot(speeds), { minLength: 1, maxLength: 8 }), { minLength: 1, maxLength: 3 }),
  });
/** Nothing leads into the first of a track or across a gap. */
const tidy = (one: Cut): Cut => ({
  ...one,
  tracks: one.tracks.map((shots) => shots.map((entry, index) => ({ ...entry, into: index === 0 || entry.gapBefore > 0 ? null : entry.into, gapBefore: index === 0 ? 0 : entry.gapBefore }))), // prettier-ignore
});
const sample = (speeds: readonly (readonly [number, number])[]) => fc.sample(cut(speeds), { numRuns: HOW_MANY, seed }).map(tidy);

/** `reels`: without one the adapter cuts the name to eight letters, blanks included, which it cannot read itself. */
function documentOf(one: Cut, reels = true) {
  const tracks = one.tracks.map((shots, index) => {
    const children = shots.flatMap(({ name, sourceIn, frames, speed, into, gapBefore }): Json[] => [
      ...(gapBefore > 0 ? [gapDocument(gapBefore, one.rate)] : []),
      ...(into ? [transitionDocument(into[0], into[1], one.rate)] : []),
      clipDocument(
        name,
        timeRange(sourceIn, frames, one.rate),
        externalReference(`/m/${name}.mov`, name, null),
        speed[0] === speed[1] ? [] : [timeWarp(speed[0] / speed[1])],
        reels ? { cmx_3600: { reel: name.slice(0, 3).toUpperCase() } } : {},
      ),
    ]);
    return trackDocument(index === 0 ? 'V' : `A${index}`, index === 0 ? 'Video' : 'Audio', children);
  });
  return timelineDocument('Random', rationalTime(one.start, one.rate), tracks, { mill_shelf: { drop_frame: one.drop } });
}

/** One line of a list as it must be: record from the first event of the track, source frames, both half-open. */
interface Line {
  readonly name: string;
  readonly record: readonly [number, number];
  readonly source: readonly [number, number];
  readonly speed: number;
}

/** A transition begins where it is first seen; the source of the part is taken outwards at the speed. */
function linesOf(shots: readonly Shot[]): Line[] {
  let at = 0;
  return shots.map((one, index) => {
    const start = at + one.gapBefore;
    at = start + one.frames;
    const [from, to] = [-(one.into?.[0] ?? 0), one.frames - (shots[index + 1]?.into?.[0] ?? 0)];
    const speed = new Fraction(one.speed[0], one.speed[1]);
    const first = one.speed[0] < 0 ? speed.abs().mul(one.frames - to) : speed.mul(from);
    const last = one.speed[0] < 0 ? speed.abs().mul(one.frames - from) : speed.mul(to);
    const source = one.speed[0] === 0 ? [one.sourceIn, one.sourceIn + 1] : [one.sourceIn + Math.floor(first.valueOf() + 1e-9), one.sourceIn + Math.ceil(last.valueOf() - 1e-9)]; // prettier-ignore
    return { name: one.name, record: [start + from, start + to], source: source as [number, number], speed: speed.valueOf() };
  });
}

const python = (script: string, input: unknown): unknown => {
  const file = join(folder, 'input.json');
  writeFileSync(file, JSON.stringify(input));
  return JSON.parse(execFileSync(resolve('.venv/bin/python'), ['-c', script, file], { encoding: 'utf8', maxBuffer: 2 ** 28 }));
};

/** For each list: tracks by name, clips as [name, source start, length, speeds, record start]. */
const READ = `
import json, sys
import opentimelineio as otio
out = []
for text, rate in json.load(open(sys.argv[1])):
    try:
        t = otio.adapters.read_from_string(text, 'cmx_3600', rate=rate)
        out.append({track.name: [[c.name, c.source_range.start_time.value, c.source_range.duration.value, [e.time_scalar for e in c.effects], c.range_in_parent().start_time.value] for c in track.find_clips()] for track in t.tracks})
    except Exception as e:
        out.append(str(e))
print(json.dumps(out))
`;
const WRITE = `
import json, sys
import opentimelineio as otio
out = []
for document, rate, style in json.load(open(sys.argv[1])):
    t = otio.adapters.read_from_string(document, 'otio_json')
    out.append(otio.adapters.write_to_string(t, 'cmx_3600', rate=rate, style=style))
print(json.dumps(out))
`;
type Theirs = Record<string, [string, number, number, number[], number][]> | string;

describe('lists that we write, read by the reference adapter', () => {
  const cuts = sample([[1, 2], [2, 1], [3, 2], [1, 3], [-1, 1], [-1, 2], [0, 1], [997, 1000]]); // prettier-ignore
  const models = cuts.map((one) => readTimelineFile(JSON.stringify(documentOf(one)), one.rate).timelines[0]!.timeline);
  const texts = models.map((model) => writeEdl(model, (event) => ({ reel: event.name, file: activeReference(event)!.url!, offsetFrames: 0 })).files[0]!.text); // prettier-ignore
  const read = python(READ, texts.map((text, index) => [text, rateAsNumber(cuts[index]!.rate)])) as Theirs[]; // prettier-ignore

  it(`${HOW_MANY} cuts: names, points, lengths, speeds and places`, () => {
    let events = 0;
    cuts.forEach((one, index) => {
      const theirs = read[index]!;
      expect(typeof theirs === 'string' ? `${theirs}\n${texts[index]}` : 'read').toBe('read');
      one.tracks.forEach((shots, track) => {
        const lines = linesOf(shots);
        const own = (theirs as Exclude<Theirs, string>)[track === 0 ? 'V' : `A${track}`]!;
        const expected = lines.map(({ name, record, source, speed }) => {
          const frames = record[1] - record[0];
          // Where source and record are equally long, that reader passes over the speed line.
          const scalars = source[1] - source[0] === frames ? [] : [Number(speed.toFixed(3))];
          return [name, source[0], frames, scalars, record[0] - lines[0]!.record[0]];
        });
        const rounded = own.map(([name, start, length, scalars, at]) => [name, start, length, scalars.map((value) => Number(value.toFixed(3))), at]);
        expect(rounded, texts[index]).toEqual(expected);
        events += own.length;
      });
    });
    expect(events).toBeGreaterThan(HOW_MANY * 4);
  });

  it('and by us: the same points, places and speeds, and whether labels drop', () => {
    cuts.forEach((one, index) => {
      const { timeline } = readTimelineFile(texts[index]!, one.rate).timelines[0]!;
      expect(timeline.dropFrame).toBe(one.drop && canDropFrame(one.rate));
      one.tracks.forEach((shots, track) => {
        const clips = timeline.tracks[track]!.items.filter((item) => item.type === 'clip');
        const lines = linesOf(shots);
        expect(clips.map((clip) => [clip.name, floorFrames(clip.sourceIn, one.rate), clip.durationFrames, clip.start - clips[0]!.start])).toEqual(
          lines.map(({ name, record, source }) => [name, source[0], record[1] - record[0], record[0] - lines[0]!.record[0]]),
        );
        clips.forEach((clip, at) => expect(clip.speed.num / clip.speed.den, texts[index]).toBeCloseTo(lines[at]!.speed, 2));
      });
    });
  });
});

describe('lists that the reference adapter writes, read by us', () => {
  // Backwards it states an out point before the in point: other frames than the timeline's. Beside a transition it leaves
  // the source as long as the record, so that the list says normal speed.
  const cuts = sample([[1, 2], [2, 1], [3, 2], [1, 3], [0, 1]]) // prettier-ignore
    .map((one): Cut => ({
      ...one,
      drop: true,
      // It writes one picture track.
      tracks: one.tracks
        .slice(0, 1)
        .map((shots) => shots.map((entry, index) => (entry.into || shots[index + 1]?.into ? { ...entry, speed: [1, 1] as const } : entry))),
    }));
  // The first two of the ways of writing that the adapter itself has.
  const ways = python(
    'import json; import opentimelineio as otio; print(json.dumps(list(otio.adapters.from_name("cmx_3600").module().VALID_EDL_STYLES)))',
    [],
  ) as string[];
  const styles = cuts.map((_, index) => ways[index % 2]!);
  const texts = python(WRITE, cuts.map((one, index) => [JSON.stringify(documentOf(one, index % 4 < 3)), rateAsNumber(one.rate), styles[index]])) as string[]; // prettier-ignore
  const theirs = python(READ, texts.map((text, index) => [text, rateAsNumber(cuts[index]!.rate)])) as Theirs[]; // prettier-ignore

  it(`${HOW_MANY} cuts: as the timeline was, and as that adapter reads them itself`, () => {
    let compared = 0;
    cuts.forEach((one, index) => {
      const { timelines, findings } = readTimelineFile(texts[index]!, one.rate);
      expect(
        findings.filter(({ code }) => !['edl-speed-divided', 'edl-overlap'].includes(code)),
        texts[index],
      ).toEqual([]);
      const { timeline } = timelines[0]!;
      expect(timeline.dropFrame).toBe(canDropFrame(one.rate));
      one.tracks.forEach((shots, track) => {
        const clips = timeline.tracks[track]!.items.filter((item) => item.type === 'clip');
        const lines = linesOf(shots);
        expect(
          clips.map((clip) => [clip.name, clip.sourceIn.value, clip.durationFrames, activeReference(clip)?.url]),
          texts[index],
        ).toEqual(lines.map(({ name, record, source }) => [name, source[0], record[1] - record[0], `/m/${name}.mov`]));
        clips.forEach((clip, at) => expect(clip.speed.num / clip.speed.den, texts[index]).toBeCloseTo(lines[at]!.speed, 6));
        const read = theirs[index]!;
        // It cannot read the semicolons of its own speed lines.
        if (typeof read === 'string') return;
        const own = read[track === 0 ? 'V' : `A${track}`] ?? read[track === 0 ? 'V' : 'A'] ?? [];
        if (own.length !== clips.length) return;
        expect(clips.map((clip) => [clip.name, clip.sourceIn.value, clip.durationFrames])).toEqual(
          own.map(([name, start, length]) => [name, start, length]),
        );
        compared += clips.length;
      });
    });
    expect(compared).toBeGreaterThan(HOW_MANY);
  });
});
