import { describe, expect, it } from 'vitest';
import { rate } from '../../time/rate';
import { readOtio } from './otio-reader';
import { parseOtioText } from './otio-text';
import { clipDocument, externalReference, formatOtio, rationalTime, timelineDocument, timeRange, trackDocument } from './otio-writer';

const PAL = rate(25);
const track = (children: string) => `{"OTIO_SCHEMA":"Timeline.1","name":"t","tracks":{"OTIO_SCHEMA":"Stack.1","children":[${children}]}}`;
const refused = (text: string) => {
  const { timelines, findings } = readOtio(text, PAL);
  expect(timelines).toEqual([]);
  return findings.map((finding) => `${finding.code} ${finding.where}`);
};

describe('what JavaScript would round or break', () => {
  it('keeps whole numbers that a double cannot hold, and numbers inside texts', () => {
    const document = timelineDocument('t', rationalTime(0, PAL), [
      trackDocument('V1', 'Video', [clipDocument('a', timeRange(0, 10, PAL), externalReference('a.mov', 'a', null))]),
    ]);
    const text = formatOtio({ ...document, metadata: { note: '": 12345678901234567890,', id: 0 } }).replace('"id": 0', '"id": 1234567890123456789');
    const read = readOtio(text, PAL).timelines[0]!;
    expect(formatOtio(read.document)).toBe(text);
    expect(formatOtio(JSON.parse(JSON.stringify(read.document)) as typeof read.document)).toBe(text);
  });

  it('keeps numbers beyond every double, and takes none of them for a time', () => {
    const document = timelineDocument('t', rationalTime(0, PAL), [
      trackDocument('V1', 'Video', [clipDocument('a', timeRange(0, 10, PAL), externalReference('a.mov', 'a', null), [], { far: 0 })]),
    ]);
    for (const number of ['1e400', '-2.5E+999', `1${'0'.repeat(400)}`, `${'9'.repeat(320)}.5`]) {
      const text = formatOtio(document).replace('"far": 0', `"far": ${number}`);
      const read = readOtio(text, PAL).timelines[0]!;
      expect(formatOtio(read.document)).toBe(text);
      const timed = formatOtio(document).replace('"value": 10', `"value": ${number}`);
      expect(readOtio(timed, PAL).findings.map((finding) => finding.code)).toContain('otio-bad-time');
    }
  });

  it('keeps the words that the reference library writes for what is no number, and takes none of them for a time', () => {
    const clip = clipDocument('NaN, "Inf" \\', timeRange(0, 10, PAL), externalReference('a.mov', 'a', null), [], { far: 0 });
    const document = timelineDocument('t', rationalTime(0, PAL), [trackDocument('V1', 'Video', [clip])]);
    for (const word of ['NaN', 'Infinity', '-Infinity', 'Inf']) {
      const text = formatOtio(document).replace('"far": 0', `"far": ${word}`);
      const read = readOtio(text, PAL).timelines[0]!;
      expect(formatOtio(read.document)).toBe(text);
      expect(read.timeline.eventCount).toBe(1);
      const timed = formatOtio(document).replace('"value": 10', `"value": ${word}`);
      expect(readOtio(timed, PAL).findings.map((finding) => finding.code)).toContain('otio-bad-time');
    }
  });

  it('a text of megabytes beside a long number is read', () => {
    const text = track(`{"OTIO_SCHEMA":"Track.1","children":[],"metadata":{"note":"${'long '.repeat(1_800_000)}","n":12345678901234567890}}`);
    expect(readOtio(text, PAL).timelines).toHaveLength(1);
    expect(formatOtio(readOtio(text, PAL).timelines[0]!.document)).toContain('12345678901234567890');
  });

  it('refuses half characters and bottomless nesting, with the place', () => {
    expect(refused(track('{"OTIO_SCHEMA":"Track.1","name":"\\ud800"}'))).toEqual(['otio-broken-text $.tracks.children[0].name']);
    expect(refused(`${'{"a":'.repeat(50_000)}1${'}'.repeat(50_000)}`)).toEqual(['otio-too-deep $']);
    expect(refused(track(`{"metadata":${'['.repeat(2_000)}${']'.repeat(2_000)}}`))).toEqual(['otio-too-deep $']);
  });
});

describe('shared objects', () => {
  it('are written out where they are used', () => {
    const shared = '{"OTIO_SCHEMA":"Clip.2","OTIO_REF_ID":"Clip-1","name":"a","source_range":null,"media_references":{}}';
    const text = track(`{"OTIO_SCHEMA":"Track.1","children":[${shared},{"OTIO_SCHEMA":"SerializableObjectRef.1","id":"Clip-1"}]}`);
    expect(readOtio(text, PAL).timelines[0]!.timeline.eventCount).toBe(2);
    expect(JSON.stringify(parseOtioText(text))).not.toContain('REF');
  });

  it('are refused when one contains itself, is not there, or grows beyond measure', () => {
    const reference = (id: string) => `{"OTIO_SCHEMA":"SerializableObjectRef.1","id":"${id}"}`;
    const stack = (id: string, children: string) => `{"OTIO_SCHEMA":"Stack.1","OTIO_REF_ID":"${id}","children":[${children}]}`;
    expect(refused(track(stack('a', reference('a'))))).toEqual(['otio-shared $']);
    expect(refused(track(stack('a', reference('b'))))).toEqual(['otio-shared $']);
    const doubling = Array.from({ length: 40 }, (_, level) =>
      stack(`s${level}`, level === 0 ? '' : reference(`s${level - 1}`).concat(',', reference(`s${level - 1}`))),
    );
    expect(refused(track(doubling.join(',')))).toEqual(['otio-shared $']);
  });
});
