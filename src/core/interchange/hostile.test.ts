/** Whatever comes in: readers end with findings, never with an exception, and what they give can be reckoned with. */
import { readFileSync } from 'node:fs';
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { compareTimelines, placedEvents } from '../project/compare';
import { clipEvents } from '../project/timeline';
import { collectUses, itemRange } from '../project/usage';
import { rate } from '../time/rate';
import { writeEdl } from './edl/edl-writer';
import { readOtio } from './otio/otio-reader';
import type { Json, OtioObject } from './otio/otio-types';
import {
  clipDocument,
  externalReference,
  gapDocument,
  rationalTime,
  timelineDocument,
  timeRange,
  trackDocument,
  withReferences,
} from './otio/otio-writer';
import { readTimelineFile } from './read-timeline-file';

const PAL = rate(25);
const vector = (name: string) => readFileSync(new URL(`../../../tests/reference/vectors/${name}`, import.meta.url), 'utf8');

/** Everything downstream of a reader, on what it gave. */
function reckon(text: string): void {
  const file = readTimelineFile(text, PAL);
  for (const { timeline, document } of file.timelines) {
    expect(Number.isSafeInteger(timeline.durationFrames)).toBe(true);
    for (const use of collectUses(timeline, { countDisabled: true })) {
      const range = itemRange(use, use.event.references[0]?.availableStart ?? null, { rate: rate(48_000), startFrame: 0 });
      expect(Number.isFinite(range.start) && range.end >= range.start).toBe(true);
    }
    // What replaces references counts events as the reader does.
    let numbered = 0;
    withReferences(document, (index) => {
      expect(index).toBe(numbered++);
      return null;
    });
    expect(numbered).toBe(timeline.eventCount);
    placedEvents(timeline);
    writeEdl(timeline, (event) => ({ reel: event.name, file: '', offsetFrames: 0 }));
    compareTimelines(timeline, timeline, (_, event) => event.name);
    JSON.stringify(document);
  }
  for (const finding of file.findings) expect(finding.message.length).toBeGreaterThan(0);
}

/** The places of a JSON tree, as paths of keys. */
function places(node: Json, path: (string | number)[] = []): (string | number)[][] {
  if (typeof node !== 'object' || node === null) return [path];
  return [path, ...Object.entries(node).flatMap(([key, value]) => places(value, [...path, Array.isArray(node) ? Number(key) : key]))];
}

function put(node: Json, path: readonly (string | number)[], value: Json): Json {
  const [key, ...rest] = path;
  if (key === undefined) return value;
  if (Array.isArray(node)) return node.map((entry, index) => (index === key ? put(entry, rest, value) : entry));
  return { ...(node as Record<string, Json>), [key]: put((node as Record<string, Json>)[key]!, rest, value) };
}

const ODD: fc.Arbitrary<Json> = fc.oneof(
  fc.constantFrom<Json>(
    null,
    true,
    '',
    'Clip.2',
    'x'.repeat(300),
    '\u0000',
    '../../etc',
    -1,
    0,
    0.5,
    1e13,
    -1e13,
    1e15,
    1e308,
    5e-324,
    [],
    {},
    [[]],
    [null, 1, 'a'],
  ),
  fc.record({ OTIO_SCHEMA: fc.constantFrom('Clip.2', 'Stack.1', 'Gap.1', 'Transition.1', 'RationalTime.1', 'Nonsense.9', '') }),
  fc.record({ value: fc.double({ noNaN: true }), rate: fc.double({ noNaN: true }) }),
  fc.record({
    OTIO_SCHEMA: fc.constant('RationalTime.1'),
    value: fc.oneof(fc.double({ min: -1e13, max: 1e13, noNaN: true }), fc.nat(1000)),
    rate: fc.double({ min: 0.001, max: 1e9, noNaN: true }),
  }),
  fc.record({ OTIO_SCHEMA: fc.constant('LinearTimeWarp.1'), time_scalar: fc.double({ min: -1e5, max: 1e5, noNaN: true }) }),
);

describe('an OTIO document with parts replaced at random', () => {
  it.each(['otio/fine_cut_1.otio', 'otio/bins.otio', 'otio/older_schema.otio'])('%s', (name) => {
    const root = JSON.parse(vector(name)) as Json;
    const all = places(root);
    fc.assert(
      fc.property(fc.array(fc.tuple(fc.nat(all.length - 1), ODD), { minLength: 1, maxLength: 4 }), (changes) => {
        let document = root;
        // From the leaves up, so that each place is still there when its turn comes.
        for (const [place, value] of [...changes].sort((a, b) => all[b[0]]!.length - all[a[0]]!.length)) document = put(document, all[place]!, value);
        reckon(JSON.stringify(document));
      }),
      { numRuns: 250 },
    );
  });
});

describe('texts with pieces cut, doubled and swapped', () => {
  it.each(['edl/reel_1.edl', 'edl/flat.edl', 'otio/fine_cut_0.otio'])('%s', (name) => {
    const text = vector(name);
    fc.assert(
      fc.property(
        fc.nat(text.length),
        fc.nat(400),
        fc.nat(text.length),
        fc.constantFrom('', '\n', '\u0000', '-', '99:99:99:99', '"', 'M2 X 999999 00:00:00:00\n'),
        (from, length, at, extra) => {
          const cut = text.slice(0, from) + text.slice(from + length);
          reckon(cut.slice(0, at) + extra + text.slice(from, from + length) + cut.slice(at));
        },
      ),
      { numRuns: 250 },
    );
  });

  it('anything at all', () => {
    fc.assert(fc.property(fc.string({ unit: 'binary', maxLength: 300 }), (text) => reckon(text)));
    for (const start of ['TITLE: ', '{"OTIO_SCHEMA":"Timeline.1",', 'name,file\n'])
      fc.assert(
        fc.property(fc.string({ unit: 'binary', maxLength: 200 }), (text) => reckon(start + text)),
        { numRuns: 60 },
      );
  });
});

it('nested deeper than is read: what lies above keeps its numbers, what lies below stays as it is', () => {
  const shot = (name: string) => clipDocument(name, timeRange(0, 10, PAL), externalReference(`${name}.mov`, name, null));
  let inner: OtioObject = trackDocument('T', 'Video', [shot('deep')]);
  for (let depth = 0; depth < 140; depth++) inner = { OTIO_SCHEMA: depth % 2 === 0 ? 'Stack.1' : 'Track.1', name: `${depth}`, children: [inner] };
  const document = timelineDocument('T', rationalTime(0, PAL), [trackDocument('V1', 'Video', [shot('first'), inner, shot('last')])]);
  const { timelines, findings } = readOtio(JSON.stringify(document), PAL);
  expect(findings.map((finding) => finding.code)).toContain('otio-too-deep');
  const seen: string[] = [];
  const written = withReferences(timelines[0]!.document, (_, old) => {
    seen.push(old!.name as string);
    return { ...old!, target_url: 'new.mov' };
  });
  expect(seen).toEqual([...clipEvents(timelines[0]!.timeline.tracks)].map((event) => event.name));
  expect(seen).toEqual(['first', 'last']);
  expect(JSON.stringify(written)).toContain('deep.mov');
});

it('a timeline longer than can be counted is left out and told', () => {
  const long = {
    ...gapDocument(1, PAL),
    source_range: { ...timeRange(0, 1, PAL), duration: { OTIO_SCHEMA: 'RationalTime.1', value: 1e13, rate: 0.001 } },
  };
  const text = JSON.stringify(timelineDocument('Long', rationalTime(0, PAL), [trackDocument('V1', 'Video', [long])]));
  expect(readOtio(text, PAL)).toMatchObject({ timelines: [], findings: [{ code: 'otio-too-long', severity: 'stops' }] });
});

it('numbers beyond all measure are passed over, with their place', () => {
  const text = vector('otio/fine_cut_0.otio').replace(/("duration": \{[^}]*"value": )[\d.]+/, '$11e300');
  const { findings } = readOtio(text, PAL);
  expect(findings.map((finding) => [finding.code, finding.where])).toEqual([
    ['otio-bad-time', '$.tracks.children[0].children[0].source_range.duration'],
  ]);
});
