import { describe, expect, it } from 'vitest';
import { clipEvents, type NestedStack } from '../../project/timeline';
import { collectUses } from '../../project/usage';
import { rate } from '../../time/rate';
import { readOtio, readOtioDocument } from './otio-reader';
import type { Json, OtioObject } from './otio-types';
import {
  clipDocument,
  externalReference,
  markerDocument,
  rationalTime,
  timelineDocument,
  timeRange,
  timeWarp,
  trackDocument,
  withReferences,
} from './otio-writer';

const PAL = rate(25);
const clip = (own: OtioObject = {}) => ({
  ...clipDocument('a', timeRange(100, 50, PAL), externalReference('a.mov', 'a', timeRange(0, 500, PAL))),
  ...own,
});
const read = (children: Json[]) => readOtioDocument(timelineDocument('t', rationalTime(0, PAL), [trackDocument('V1', 'Video', children)]), PAL);
const first = (children: Json[]) => [...clipEvents(read(children).timelines[0]!.timeline.tracks)][0]!;
const effect = (metadata: OtioObject): OtioObject => ({ OTIO_SCHEMA: 'TimeEffect.1', effect_name: 'Ramp', metadata });

it.each(['Hologram.1', 'constructor.1', '__proto__', 'toString.2', ''])('a reference of the schema "%s" is of a kind that is not known', (schema) => {
  const [event] = clipEvents(read([clip({ media_references: { DEFAULT_MEDIA: { OTIO_SCHEMA: schema, name: 'a' } } })]).timelines[0]!.timeline.tracks);
  expect([event!.references[0]!.kind, event!.references[0]!.url]).toEqual(['unknown', null]);
});

describe('time effects', () => {
  it('multiply; a held frame wins; what is switched off does not count', () => {
    expect(first([clip({ effects: [timeWarp(2), timeWarp(-0.5)] })]).speed).toEqual({ num: -1, den: 1 });
    expect(first([clip({ effects: [timeWarp(0)] })]).speed.num).toBe(0);
    expect(first([clip({ effects: [{ ...timeWarp(4), enabled: false }] })]).speed).toEqual({ num: 1, den: 1 });
  });

  it('stacked by the dozen are one exact speed, or count all of the media where no whole numbers hold it', () => {
    const stacked = (scalars: number[]) => read([clip({ effects: scalars.map(timeWarp) })]);
    const even = stacked(Array.from({ length: 40 }, (_, index) => (index % 2 === 0 ? 7 / 3 : 3 / 7)));
    expect(even.findings).toEqual([]);
    expect([...clipEvents(even.timelines[0]!.timeline.tracks)][0]!.speed).toEqual({ num: 1, den: 1 });
    const odd = stacked(Array.from({ length: 40 }, (_, index) => 1.000_000_7 + index / 1e6));
    expect(new Set(odd.findings.map((finding) => finding.code))).toEqual(new Set(['otio-odd-speeds']));
    expect(collectUses(odd.timelines[0]!.timeline, { countDisabled: false })[0]!.source).toEqual({ start: 0, end: 500 });
  });

  it('may be given by keys of position or of speed', () => {
    expect(first([clip({ effects: [effect({ mill_shelf: { position_keys: [[50, 25], [0, 0]] } })] })]).map).toEqual({ of: 'position', keys: [{ frame: 0, num: 0, den: 1 }, { frame: 50, num: 25, den: 1 }] }); // prettier-ignore
    expect(first([clip({ effects: [effect({ mill_shelf: { speed_keys: [[0, 0.25]] } })] })]).map).toMatchObject({ of: 'speed', keys: [{ frame: 0, num: 250_000, den: 1_000_000 }] }); // prettier-ignore
  });

  it('that do not tell what they do are named, and count all of the media', () => {
    const silent: OtioObject[] = [
      {},
      { mill_shelf: { speed_keys: 'fast' } },
      { mill_shelf: { speed_keys: [[0, 'x']] } },
      { mill_shelf: { speed_keys: [] } },
    ];
    for (const metadata of silent) {
      const { findings, timelines } = read([clip({ effects: [effect(metadata)] })]);
      expect(findings.map((finding) => [finding.code, finding.where])).toEqual([
        ['otio-unknown-retime', '$.tracks.children[0].children[0].effects[0]'],
      ]);
      expect(collectUses(timelines[0]!.timeline, { countDisabled: false })[0]!.source).toEqual({ start: 0, end: 500 });
    }
  });
});

describe('markers', () => {
  it('of both versions are read, with their place, colour and note', () => {
    const second = markerDocument('hum', timeRange(110, 2, PAL), 'GREEN', 'listen');
    const older: OtioObject = { OTIO_SCHEMA: 'Marker.1', name: 'old', range: timeRange(120, 1, PAL) };
    expect(first([clip({ markers: [second, older] })]).markers).toMatchObject([
      { name: 'hum', note: 'listen', colour: 'GREEN', at: { value: 110 }, duration: { value: 2 } },
      { name: 'old', at: { value: 120 } },
    ]);
  });

  it('without a range are passed over with a note, and stay in the document', () => {
    const { findings, timelines } = read([clip({ markers: [{ OTIO_SCHEMA: 'Marker.2', name: 'lost' }] })]);
    expect(findings[0]).toMatchObject({ code: 'otio-bad-marker', severity: 'notes' });
    expect(JSON.stringify(timelines[0]!.document)).toContain('"lost"');
  });
});

describe('points between frames', () => {
  it('a fractional in point is kept to a millionth, and its whole frames are read', () => {
    const range: OtioObject = {
      OTIO_SCHEMA: 'TimeRange.1',
      start_time: { OTIO_SCHEMA: 'RationalTime.1', value: 100.5, rate: 25 },
      duration: rationalTime(10, PAL),
    };
    const event = first([clip({ source_range: range })]);
    expect([event.sourceIn, event.units]).toEqual([{ value: 100_500_000, rate: { num: 25_000_000, den: 1 } }, PAL]);
    const [use] = collectUses(read([clip({ source_range: range })]).timelines[0]!.timeline, { countDisabled: false });
    expect(use!.source).toEqual({ start: 100, end: 111 });
  });

  it('an event counted in samples keeps the sample', () => {
    const samples = rate(48_000);
    const sound = clipDocument(
      's',
      timeRange(1_728_000_123, 1001, samples),
      externalReference('s.wav', 's', timeRange(1_728_000_000, 480_000, samples)),
    );
    expect(first([sound])).toMatchObject({ sourceIn: { value: 1_728_000_123 }, sourceDuration: { value: 1001 }, durationFrames: 0, aligned: false });
  });
});

describe('what may stand where', () => {
  it('a whole timeline on a track is nested; its clips are numbered with the others, and their references can be changed', () => {
    const inner = { ...timelineDocument('inner', null, [trackDocument('V1', 'Video', [clip(), clip()])]), source_range: timeRange(10, 60, PAL) };
    const document = timelineDocument('t', rationalTime(0, PAL), [trackDocument('V1', 'Video', [clip(), inner, clip()])]);
    const { timeline } = readOtioDocument(document, PAL).timelines[0]!;
    const nested = timeline.tracks[0]!.items[1] as NestedStack;
    expect([nested.type, nested.windowStart, nested.durationFrames, timeline.eventCount]).toEqual(['nested', 10, 60, 4]);
    const changed = withReferences(document, (index) => externalReference(`${index}.mov`, '', null));
    const urls = [...clipEvents(readOtioDocument(changed, PAL).timelines[0]!.timeline.tracks)].map((event) => event.references[0]!.url);
    expect(urls).toEqual(['0.mov', '1.mov', '2.mov', '3.mov']);
  });

  it('speed on a track is a window over all of it', () => {
    const track = { ...trackDocument('V1', 'Video', [clip()]), effects: [timeWarp(2)], source_range: timeRange(0, 20, PAL) };
    const { timeline } = readOtioDocument(timelineDocument('t', rationalTime(0, PAL), [track]), PAL).timelines[0]!;
    expect(collectUses(timeline, { countDisabled: false }).map((use) => use.source)).toEqual([{ start: 100, end: 140 }]);
  });

  it('several references keep their keys; the active one stands for the clip, the first where the key leads nowhere', () => {
    const references: OtioObject = { HIGH: externalReference('high.mov', 'h', null), LOW: externalReference('low.mov', 'l', null) };
    const event = (key: string) => first([clip({ media_references: references, active_media_reference_key: key })]);
    expect([event('LOW').activeKey, event('LOW').references.map((reference) => reference.key)]).toEqual(['LOW', ['HIGH', 'LOW']]);
    const changed = withReferences(timelineDocument('t', null, [trackDocument('V', 'Video', [clip({ media_references: references, active_media_reference_key: 'nowhere' })])]), () => externalReference('new.mov', 'n', null)); // prettier-ignore
    expect(JSON.stringify(changed)).toMatch(/"HIGH":\{.*"target_url":"new\.mov".*"LOW":/);
  });

  it('wrong types are no reason to stop', () => {
    const odd = {
      OTIO_SCHEMA: 'Timeline.1',
      name: 7,
      tracks: { OTIO_SCHEMA: 'Stack.1', children: { a: 1 }, markers: 'no', effects: 3 },
      global_start_time: [],
    };
    expect(readOtio(JSON.stringify(odd), PAL).timelines[0]!.timeline).toMatchObject({ name: 'Untitled timeline', tracks: [], durationFrames: 0 });
  });
});
