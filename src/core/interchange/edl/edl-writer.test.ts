import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { activeReference, clipEvents, type ClipEvent, type Timeline } from '../../project/timeline';
import { rate, type Rate } from '../../time/rate';
import { readOtio } from '../otio/otio-reader';
import type { OtioObject } from '../otio/otio-types';
import {
  clipDocument,
  externalReference,
  formatOtio,
  gapDocument,
  markerDocument,
  rationalTime,
  timelineDocument,
  timeRange,
  timeWarp,
  trackDocument,
  transitionDocument,
} from '../otio/otio-writer';
import { readTimelineFile } from '../read-timeline-file';
import { writeEdl } from './edl-writer';
import { ReelNames } from './reel-names';

const PAL = rate(25);
const cut = (name: string, from: number, length: number, speed = 1, r: Rate = PAL) =>
  clipDocument(
    name,
    timeRange(820_000 + from, length, r),
    externalReference(`/m/${name}.mov`, name, timeRange(820_000, 5000, r)),
    speed === 1 ? [] : [timeWarp(speed)],
  );
const model = (tracks: OtioObject[], r: Rate = PAL) =>
  readOtio(formatOtio(timelineDocument('Bell', rationalTime(900_000, r), tracks)), r).timelines[0]!.timeline;
const picture = (children: OtioObject[]) => trackDocument('V1', 'Video', children);
const source = (event: ClipEvent) => ({ reel: activeReference(event)?.name ?? null, file: `${activeReference(event)?.name}.mov`, offsetFrames: 0 });
const write = (timeline: Timeline) => writeEdl(timeline, source);
const codes = (timeline: Timeline) => write(timeline).findings.map((finding) => finding.code);
const points = (timeline: Timeline) =>
  [...clipEvents(timeline.tracks)].map((event) => [
    event.name,
    event.start,
    event.durationFrames,
    event.sourceIn.value,
    event.speed.num / event.speed.den,
  ]);

describe('writing a CMX 3600 list', () => {
  it('read again it has the same events, points, speeds, channels and marks', () => {
    const marked = { ...cut('LADLE', 0, 50), markers: [markerDocument('hum', timeRange(820_010, 1, PAL), 'GREEN')] };
    const timeline = model([
      picture([marked, gapDocument(10, PAL), cut('HOIST', 100, 60, 0.5), cut('TOWER', 0, 20, -1), cut('STRIKE', 5, 30, 0)]),
      ...['A1', 'A2', 'A3', 'A4'].map((name) => trackDocument(name, 'Audio', [cut(`SOUND ${name}`, 7, 100)])),
    ]);
    const { files, findings } = write(timeline);
    expect(findings).toEqual([]);
    const again = readTimelineFile(files[0]!.text, PAL);
    expect(again.findings).toEqual([]);
    expect(points(again.timelines[0]!.timeline)).toEqual(points(timeline));
    expect([...clipEvents(again.timelines[0]!.timeline.tracks)][0]!.markers[0]).toMatchObject({
      name: 'hum',
      colour: 'GREEN',
      at: { value: 820_010 },
    });
  });

  it('lets a transition begin where it is first seen, and takes it back from the event before', () => {
    const { files } = write(model([picture([cut('A', 0, 50), transitionDocument(6, 4, PAL), cut('B', 100, 50)])]));
    const lines = files[0]!.text.split('\n').filter((line) => /^\d/.test(line));
    expect(lines).toEqual([
      '001  A        V     C        09:06:40:00 09:06:41:19 10:00:00:00 10:00:01:19',
      '002  A        V     C        09:06:41:19 09:06:41:19 10:00:01:19 10:00:01:19',
      '002  B        V     D    010 09:06:43:19 09:06:46:00 10:00:01:19 10:00:04:00',
    ]);
  });

  it('says what a list cannot say, each once, and writes the rest', () => {
    const nested = (tracks: OtioObject[]): OtioObject => ({
      OTIO_SCHEMA: 'Stack.1',
      name: 'Montage',
      source_range: timeRange(5, 20, PAL),
      children: tracks,
    });
    const off = { ...cut('OFF', 0, 10), enabled: false };
    const generator = { ...cut('BARS', 0, 10), media_references: { DEFAULT_MEDIA: { OTIO_SCHEMA: 'GeneratorReference.1' } } };
    const varying = { ...cut('RAMP', 0, 10), effects: [{ OTIO_SCHEMA: 'TimeEffect.1', metadata: { mill_shelf: { speed_keys: [[0, 1], [10, 3]] } } }] }; // prettier-ignore
    const timeline = model([
      picture([off, generator, varying, nested([picture([cut('IN', 0, 30)])]), nested([picture([cut('X', 0, 30)]), picture([cut('Y', 0, 30)])])]),
      { ...picture([cut('MUTED', 0, 5)]), name: 'V2', enabled: false },
      ...Array.from({ length: 5 }, (_, index) => trackDocument(`A${index + 1}`, 'Audio', [cut('S', 0, 10)])),
    ]);
    expect(codes(timeline).sort()).toEqual([
      'edl-disabled',
      'edl-generator',
      'edl-muted',
      'edl-nested',
      'edl-nested-opened',
      'edl-sound',
      'edl-varying',
    ]);
    // Flattened, the upper of two layers is what is seen.
    const flat = writeEdl(timeline, source, true);
    expect(flat.findings.map(({ code }) => code)).toEqual(expect.arrayContaining(['edl-flattened-video', 'edl-flattened-covered']));
    expect([/^\d+ +Y /m.test(flat.files[0]!.text), /^\d+ +X /m.test(flat.files[0]!.text)]).toEqual([true, false]);
    const { files } = write(timeline);
    expect(files[0]!.text).toMatch(/M2 {3}RAMP .*050\.0/);
    expect(files[0]!.text).toMatch(/IN .*09:06:40:05 09:06:41:00/);
  });

  it('drops nothing in silence: transitions inside nested ones, effects, references, marks, sound inside, what is last', () => {
    const blur: OtioObject = { OTIO_SCHEMA: 'Effect.1', effect_name: 'Blur' };
    const references: OtioObject = { DEFAULT_MEDIA: externalReference('a.mov', 'A', null), proxy: externalReference('p.mov', 'p', null) };
    const rich = {
      ...cut('RICH', 0, 20),
      effects: [blur],
      media_references: references,
      markers: [markerDocument('late', timeRange(820_400, 1, PAL), 'RED')],
    };
    const inside = [picture([cut('ONE', 0, 20), transitionDocument(2, 3, PAL), cut('TWO', 50, 20)]), trackDocument('A1', 'Audio', [cut('S', 0, 40)])];
    const nested: OtioObject = { OTIO_SCHEMA: 'Stack.1', name: 'Montage', source_range: timeRange(0, 40, PAL), children: inside };
    const off = { ...cut('OFF', 0, 10), enabled: false };
    const timeline = model([picture([rich, off, transitionDocument(4, 4, PAL), nested, transitionDocument(5, 0, PAL)])]);
    expect(codes(timeline).sort()).toEqual([
      'edl-disabled',
      'edl-effects',
      'edl-last-transition',
      'edl-locators',
      'edl-nested-opened',
      'edl-nested-sound',
      'edl-references',
    ]);
    const lines = write(timeline).files[0]!.text.split('\n').filter((line) => /^\d/.test(line)).map((line) => line.slice(0, 28).replace(/\s+/g, ' ').trim()); // prettier-ignore
    // What is switched off is black, and the dissolve comes from it.
    expect(lines).toEqual(['001 A V C', '002 BL V C', '002 ONE V D 008', '003 ONE V C', '003 TWO V D 005']);
  });

  it('opens a windowed sound track like a picture track', () => {
    const windowed = { ...trackDocument('A1', 'Audio', [cut('S', 0, 100)]), source_range: timeRange(10, 40, PAL) };
    const timeline = model([picture([cut('A', 0, 40)]), windowed]);
    expect(codes(timeline)).toEqual(['edl-nested-opened']);
    expect(write(timeline).files[0]!.text).toMatch(/^002 {2}S .*A {5}C .*09:06:40:10 09:06:42:00 10:00:00:00 10:00:01:15$/m);
  });

  it('writes no dissolve that a window does not show, and says so of one that its edge cuts', () => {
    const montage = (from: number, length: number): OtioObject => ({
      OTIO_SCHEMA: 'Stack.1',
      name: 'Montage',
      source_range: timeRange(from, length, PAL),
      children: [picture([cut('ONE', 0, 50), transitionDocument(4, 4, PAL), cut('TWO', 0, 50)])],
    });
    const kinds = (from: number, length: number) => {
      const { files, findings } = write(model([picture([montage(from, length)])]));
      return [files[0]!.text.match(/ [CD] +\d/g)?.map((kind) => kind.trim()[0]).join(''), ...findings.map((finding) => finding.code).filter((code) => code !== 'edl-nested-opened')]; // prettier-ignore
    };
    expect(kinds(0, 100)).toEqual(['CCD']);
    expect(kinds(60, 30)).toEqual(['C']);
    expect(kinds(52, 30)).toEqual(['C', 'edl-cut-transition']);
    expect(kinds(10, 40)).toEqual(['C', 'edl-cut-transition']);
    expect(kinds(10, 36)).toEqual(['C']);
  });

  it('takes the in point before a dissolve of a fast event outwards', () => {
    // 3 frames before the cut at three halves: four and a half source frames, so five.
    const { files } = write(model([picture([cut('A', 0, 50), transitionDocument(3, 0, PAL), cut('B', 100, 50, 1.5)])]));
    expect(files[0]!.text).toMatch(/^002 {2}B .*09:06:43:20 09:06:47:00/m);
  });

  it('sets a mark of a reversed event where it is seen', () => {
    const marked = { ...cut('BACK', 0, 50, -1), markers: [markerDocument('first', timeRange(820_049, 1, PAL), 'RED'), markerDocument('last', timeRange(820_000, 1, PAL), 'RED')] }; // prettier-ignore
    expect(write(model([picture([marked])])).files[0]!.text.match(/LOC: \S+/g)).toEqual(['LOC: 10:00:00:00', 'LOC: 10:00:01:24']);
  });

  it('keeps the colons of speed lines in drop-frame lists, and counts speeds at the real rate', () => {
    const NTSC = rate(30_000, 1001);
    const { files } = write(model([picture([cut('HOIST', 0, 60, 0.5, NTSC)])], NTSC));
    expect(files[0]!.text).toMatch(/^M2 {3}HOIST {10}0?014\.985 .*\d\d:\d\d:\d\d:\d\d$/m);
    expect(files[0]!.text).toMatch(/^001 .*;/m);
  });

  it('splits at 999 events and says so; the record goes on', () => {
    const { files, findings } = write(model([picture(Array.from({ length: 1500 }, (_, index) => cut(`C${index}`, index, 10)))]));
    expect(files.map((file) => [file.label, file.events])).toEqual([
      ['V1 part 1', 999],
      ['V1 part 2', 501],
    ]);
    expect(findings.map((finding) => finding.code)).toEqual(['edl-split']);
    expect(files[1]!.text).toMatch(/^001 .*10:06:39:15/m);
  });

  it('keeps a hostile name on its line', () => {
    const { files } = write(model([picture([cut('A\n002  EVIL V C', 0, 10)])]));
    expect(files[0]!.text.split('\n').filter((line) => /^\d/.test(line))).toHaveLength(1);
  });

  it('write, read, write is byte-stable, drop-frame and fractional speeds included', () => {
    const shots = fc.array(
      fc.record({
        from: fc.nat(4000),
        length: fc.integer({ min: 5, max: 200 }),
        speed: fc.constantFrom(1, 1, 1, 0.5, 0.25, 1 / 3, 1.2, 2, -1, -0.5, 0),
        dissolve: fc.nat(4),
      }),
      { minLength: 1, maxLength: 12 },
    );
    fc.assert(
      fc.property(shots, fc.constantFrom(PAL, rate(24), rate(30_000, 1001), rate(60_000, 1001)), (list, r) => {
        const children = list.flatMap(({ from, length, speed, dissolve }, index) => {
          const clip = cut(`SHOT ${index % 5}`, from, length, speed, r);
          return index > 0 && dissolve > 0 ? [transitionDocument(0, dissolve, r), clip] : [clip];
        });
        const once = write(model([picture(children)], r)).files[0]!.text;
        const read = readTimelineFile(once, r);
        expect(read.findings.filter((finding) => finding.severity !== 'notes')).toEqual([]);
        const named = { ...read.timelines[0]!.timeline, name: 'Bell' };
        const again = writeEdl(named, (event) => ({ ...source(event), reel: activeReference(event)!.reel, file: activeReference(event)!.url ?? '' }));
        expect(again.files[0]!.text).toBe(once);
      }),
      { numRuns: 150 },
    );
  });
});

describe('reel names', () => {
  it('are short, unique and always the same', () => {
    const reels = new ReelNames(['AX', 'BL']);
    expect(['A001_C001', 'A001_C002', 'MUS_slow_bell_1', 'MUS_slow_bell_2', 'ax', 'A001_C001', '鐘'].map((name) => reels.short(name))).toEqual([
      'A001C001',
      'A001C002',
      'MUSSLOWB',
      'MUSSLO02',
      'AX02',
      'A001C001',
      'REEL',
    ]);
  });

  it('go first to those that fit exactly', () => {
    const wanted = ['A001C001_wide', 'A001C001', 'B002C0021', 'B002C002'];
    const reels = new ReelNames(['AX', 'BL'], wanted);
    expect(wanted.map((name) => reels.short(name))).toEqual(['A001C002', 'A001C001', 'B002C003', 'B002C002']);
  });
});
