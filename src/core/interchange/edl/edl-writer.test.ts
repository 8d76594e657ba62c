import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { activeReference, clipEvents, type ClipEvent, type Timeline } from '../../project/timeline';
import { forEachUse } from '../../project/usage';
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

  it('what the editing system makes itself is an event: bars, and black that has a name', () => {
    const made = (name: string, kind: string) => ({ ...cut(name, 0, 10), media_references: { DEFAULT_MEDIA: { OTIO_SCHEMA: 'GeneratorReference.1', generator_kind: kind } } }); // prettier-ignore
    const { files, findings } = write(model([picture([cut('A', 0, 10), made('SLUG', 'black'), gapDocument(5, PAL), made('Line-up', 'SMPTEBars'), made('Snow', 'Noise')])])); // prettier-ignore
    expect(findings.map(({ code, message }) => [code, /Snow/.test(message)])).toEqual([['edl-generator', true]]);
    const [read] = readTimelineFile(files[0]!.text, PAL).timelines;
    expect([...clipEvents(read!.timeline.tracks)].map((event) => [event.name, event.start, activeReference(event)!.kind, activeReference(event)!.makes])).toEqual([
      ['A', 0, 'external', undefined],
      ['SLUG', 10, 'generator', 'black'],
      ['Line-up', 25, 'generator', 'SMPTEBars'],
      ['Snow', 35, 'missing', undefined],
    ]); // prettier-ignore
    // A reel called so by chance, with a file, is media.
    const chance = 'TITLE: X\n001  BARS     V     C        09:14:00:00 09:14:02:00 10:00:00:00 10:00:02:00\n* FROM CLIP NAME: Snack bars\n* SOURCE FILE: bars.mov\n'; // prettier-ignore
    expect(activeReference([...clipEvents(readTimelineFile(chance, PAL).timelines[0]!.timeline.tracks)][0]!)!.kind).toBe('external');
    // Below a fade to black FROM names what fades: that is no slug.
    const fade = 'TITLE: X\n001  A001     V     C        09:14:00:00 09:14:02:00 10:00:00:00 10:00:02:00\n002  A001     V     C        09:14:02:00 09:14:02:00 10:00:02:00 10:00:02:00\n002  BL       V     D    012 00:00:00:00 00:00:02:00 10:00:02:00 10:00:04:00\n* FROM CLIP NAME: LADLE\n'; // prettier-ignore
    expect([...clipEvents(readTimelineFile(fade, PAL).timelines[0]!.timeline.tracks)].map(({ name }) => name)).toEqual(['A001']);
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

describe('speeds with dissolves', () => {
  it('read again an event reads the frames it read before, whatever its speed and its transitions; backwards one more at most', () => {
    const shots = fc.array(
      fc.record({
        from: fc.nat(3000),
        length: fc.integer({ min: 9, max: 120 }),
        // Slower ones count by two readings of their range, one of which is the length of the list.
        speed: fc.constantFrom(1, 1.25, 1.1, 1.04, 4 / 3, -1.25, -1.6, 2.5),
        early: fc.nat(4),
        late: fc.nat(4),
      }),
      { minLength: 2, maxLength: 8 },
    );
    const frames = (timeline: Timeline) => {
      const read: { name: string; backwards: boolean; start: number; end: number }[] = [];
      forEachUse(timeline, { countDisabled: false }, ({ event: { name, speed }, source }) =>
        read.push({ name, backwards: speed.num < 0, start: Math.floor(source.start), end: Math.ceil(source.end) }),
      );
      return read;
    };
    fc.assert(
      fc.property(shots, fc.constantFrom(PAL, rate(24), rate(30_000, 1001)), (list, r) => {
        const children = list.flatMap(({ from, length, speed, early, late }, index) => {
          const clip = cut(`SHOT ${index}`, from, length, speed, r);
          return index > 0 && early + late > 0 ? [transitionDocument(early, late, r), clip] : [clip];
        });
        const before = model([picture(children)], r);
        const read = readTimelineFile(write(before).files[0]!.text, r);
        expect(read.findings.filter((finding) => finding.severity !== 'notes')).toEqual([]);
        const after = frames(read.timelines[0]!.timeline);
        const fits = frames(before).map((was, index) => {
          const { start, end } = after[index]!;
          const more = was.backwards ? 1 : 0;
          return start <= was.start && start >= was.start - more && end >= was.end && end <= was.end + more ? was : after[index];
        });
        expect(fits).toEqual(frames(before));
      }),
      { numRuns: 600 },
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

describe('nested timelines with a speed of their own', () => {
  interface Shot {
    readonly from: number;
    readonly length: number;
    readonly speed: number;
    readonly gap: number;
  }
  const shots = fc.array(
    fc.record({ from: fc.nat(200), length: fc.integer({ min: 1, max: 12 }), speed: fc.constantFrom(1, 1, 2, -1), gap: fc.constantFrom(0, 0, 3) }),
    { minLength: 1, maxLength: 4 },
  );
  const lane = (layer: number, own: readonly Shot[]) =>
    trackDocument(
      `V${layer}`,
      'Video',
      own.flatMap(({ from, length, speed, gap }, index) => [
        ...(gap > 0 ? [gapDocument(gap, PAL)] : []),
        cut(`L${layer}S${index}`, 1000 + from, length, speed),
      ]),
    );

  /** Which source frame a layer shows at one of its frames, worked out from the shots themselves; null where it shows none. */
  function shownAt(layer: number, own: readonly Shot[], frame: number): string | null {
    let at = 0;
    for (const [index, { from, length, speed, gap }] of own.entries()) {
      at += gap;
      const into = frame - at;
      if (into >= 0 && into < length) {
        // Backwards from the end of what is passed.
        const passed = speed > 0 ? speed * into : -speed * (length - into) - 1;
        return `L${layer}S${index} ${821_000 + from + passed}`;
      }
      at += length;
    }
    return null;
  }

  it('show the very frames in the list that the timeline shows', () => {
    fc.assert(
      fc.property(
        shots,
        shots,
        fc.constantFrom(1, 2, 3, -1, -2, 0),
        fc.nat(8),
        fc.integer({ min: 1, max: 20 }),
        fc.nat(5),
        fc.integer({ min: 1, max: 20 }),
        (low, high, speed, windowStart, length, outerStart, outerLength) => {
          // A window that lies wholly behind what is inside is read as a record timecode.
          const lasts = (own: readonly Shot[]) => own.reduce((sum, shot) => sum + shot.gap + shot.length, 0);
          fc.pre(windowStart < Math.max(lasts(low), lasts(high)) && outerStart < 3 + length);
          const nested: OtioObject = {
            OTIO_SCHEMA: 'Stack.1',
            name: 'Montage',
            source_range: timeRange(windowStart, length, PAL),
            effects: speed === 1 ? [] : [timeWarp(speed)],
            children: [lane(1, low), lane(2, high)],
          };
          // Once more in a nested timeline that shows a part of it.
          const outer: OtioObject = {
            OTIO_SCHEMA: 'Stack.1',
            name: 'Reel',
            source_range: timeRange(outerStart, outerLength, PAL),
            children: [picture([cut('HEAD', 0, 3), nested])],
          };
          const timeline = model([picture([cut('FIRST', 0, 2), outer])]);
          const { files } = writeEdl(timeline, source, true);
          const [list] = readTimelineFile(files[0]!.text, PAL).timelines;
          const inList = new Map<number, string>();
          for (const item of list!.timeline.tracks[0]!.items) {
            if (item.type !== 'clip' || !item.name.startsWith('L')) continue;
            const v = item.speed.num / item.speed.den;
            for (let k = 0; k < item.durationFrames; k++) {
              const passed = v >= 0 ? v * k : -v * (item.durationFrames - k) - 1;
              inList.set(item.start + k, `${item.name} ${item.sourceIn.value + passed}`);
            }
          }
          const expected = new Map<number, string>();
          for (let record = 0; record < outerLength; record++) {
            const k = record + outerStart - 3;
            if (k < 0 || k >= length) continue;
            const frame = speed >= 0 ? windowStart + speed * k : windowStart - speed * (length - k) - 1;
            const seen = shownAt(2, high, frame) ?? shownAt(1, low, frame);
            if (seen !== null) expected.set(record + 2, seen);
          }
          expect([...inList].sort()).toEqual([...expected].sort());
        },
      ),
      { numRuns: 600 },
    );
  });
});
