import { describe, expect, it } from 'vitest';
import { rate } from '../../time/rate';
import { readOtio } from './otio-reader';
import {
  clipDocument,
  externalReference,
  formatOtio,
  gapDocument,
  rationalTime,
  timelineDocument,
  timeRange,
  trackDocument,
  withReferences,
} from './otio-writer';
import type { OtioObject } from './otio-types';

const PAL = rate(25);
const clip = (name: string, start: number, length: number, r = PAL) =>
  clipDocument(name, timeRange(start, length, r), externalReference(`media/${name}.mov`, name, timeRange(0, 500, r)));
const timeline = (children: OtioObject[]) => timelineDocument('Cut', rationalTime(900_000, PAL), [trackDocument('V1', 'Video', children)]);

describe('readOtio', () => {
  it('lays events one after the other, at any mix of rates, without rounding on the way', () => {
    const ntsc = rate(30000, 1001);
    const children = Array.from({ length: 1000 }, (_, index) => clip(`c${index}`, 0, 1, index % 2 ? ntsc : PAL));
    const { timelines } = readOtio(formatOtio(timeline(children)), PAL);
    // 500/25 s + 500·1001/30000 s = 36.683… s = 917.08 frames at 25.
    expect(timelines[0]!.timeline.durationFrames).toBe(917);
    expect(timelines[0]!.timeline.eventCount).toBe(1000);
  });

  it('says where a truncated file ends', () => {
    const text = formatOtio(timeline([clip('a', 0, 10)]));
    const { findings, timelines } = readOtio(text.slice(0, 300), PAL);
    expect(timelines).toEqual([]);
    expect(findings[0]).toMatchObject({ code: 'otio-truncated', severity: 'stops' });
    expect(findings[0]!.where).toMatch(/^line \d+, column \d+$/);
  });

  it.each([
    ['not json at all', 'otio-not-json'],
    ['{"a": 1}', 'otio-no-schema'],
    ['[1, 2]', 'otio-no-schema'],
    ['{"OTIO_SCHEMA": "Gap.1"}', 'otio-skipped'],
  ])('refuses %s', (text, code) => expect(readOtio(text, PAL).findings[0]?.code).toBe(code));

  it('goes on past hostile values and names their JSON path', () => {
    const bad = clip('bad', 0, 10);
    (bad.source_range as OtioObject).duration = { OTIO_SCHEMA: 'RationalTime.1', value: 1e300, rate: 25 };
    const unknown: OtioObject = { OTIO_SCHEMA: 'Hologram.7', name: 'x', source_range: timeRange(0, 5, PAL) };
    const { timelines, findings } = readOtio(formatOtio(timeline([bad, unknown, gapDocument(5, PAL), clip('good', 0, 10)])), PAL);
    expect(findings.map((finding) => finding.code)).toEqual(['otio-bad-time', 'otio-unknown-schema']);
    expect(findings[0]!.where).toBe('$.tracks.children[0].children[0].source_range.duration');
    expect(timelines[0]!.timeline.tracks[0]!.items.at(-1)).toMatchObject({ type: 'clip', name: 'good' });
  });

  it('refuses endless nesting', () => {
    let stack: OtioObject = { OTIO_SCHEMA: 'Stack.1', name: '', children: [clip('deep', 0, 10)] };
    for (let level = 0; level < 200; level++) stack = { OTIO_SCHEMA: 'Stack.1', name: '', children: [trackDocument('V', 'Video', [stack])] };
    expect(readOtio(JSON.stringify(stack), PAL).findings.some((finding) => finding.code === 'otio-too-deep')).toBe(true);
  });
});

describe('withReferences', () => {
  it('changes the active reference only; unknown fields and metadata stay', () => {
    const document = timeline([{ ...clip('a', 3, 10), metadata: { colour: { lift: [1, 2] } }, strange: true }, clip('b', 0, 5)]);
    const out = withReferences(document, (index) => (index === 0 ? externalReference('../new.mov', 'new', null) : null));
    const text = formatOtio(out);
    expect(text).toContain('"strange": true');
    expect(readOtio(text, PAL).timelines[0]!.timeline.tracks[0]!.items[0]).toMatchObject({
      sourceIn: { value: 3 },
      references: [{ url: '../new.mov' }],
    });
    expect(withReferences(document, () => null)).toEqual(document);
  });
});
