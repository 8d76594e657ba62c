/** Speeds of M2 lines against lengths. That readers count them at the real rate: CMX 3600 adapter 1.0.0 of OpenTimelineIO. */
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { clipEvents } from '../../project/timeline';
import { rate, rateAsNumber } from '../../time/rate';
import { readTimelineFile } from '../read-timeline-file';
import { readSpeedLine, agreeOnSpeed, speedColumn } from './edl-speed';

const PAL = rate(25);
const NTSC = rate(30_000, 1001);
const value = (stated: string, source: number, record: number, r = NTSC) => {
  const { speed, by } = agreeOnSpeed(stated, source, record, r);
  return [Number((speed.num / speed.den).toFixed(6)), by];
};

describe('a speed line and the lengths', () => {
  it('30 and 29.97 a second are both normal at 30000/1001, and so are their halves', () => {
    expect(value('030.0', 100, 100)).toEqual([1, 'both']);
    expect(value('29.97', 100, 100)).toEqual([1, 'both']);
    expect(value('29.97', 100_000, 100_000)).toEqual([1, 'both']);
    expect(value('015.0', 5000, 10_000)).toEqual([0.5, 'both']);
    expect(value('14.985', 5000, 10_000)).toEqual([0.5, 'both']);
    expect(value('-29.97', 100, 100)).toEqual([-1, 'both']);
  });

  it('decide together; where they disagree the lengths do, but for lengths divided by the speed', () => {
    expect(value('020.0', 50, 100, PAL)).toEqual([0.5, 'lengths']);
    expect(value('012.5', 50, 50, PAL)).toEqual([1, 'lengths']);
    expect(value('012.5', 200, 100, PAL)).toEqual([0.5, 'speed']);
    expect(value('050.0', 50, 100, PAL)).toEqual([2, 'speed']);
    expect(value('000.0', 1, 100, PAL)).toEqual([0, 'both']);
  });

  it('what we write in the column is read as what it was, at any rate and length', () => {
    const speed = fc.tuple(fc.integer({ min: -400, max: 400 }), fc.integer({ min: 1, max: 100 }));
    fc.assert(
      fc.property(speed, fc.integer({ min: 1, max: 5000 }), fc.constantFrom(PAL, NTSC, rate(24_000, 1001)), ([num, den], record, r) => {
        const source = Math.max(1, Math.ceil((record * Math.abs(num)) / den));
        const read = agreeOnSpeed(speedColumn({ num, den }, r), source, record, r);
        // Three decimals of a rate hold that much.
        expect(Math.abs(read.speed.num / read.speed.den - num / den)).toBeLessThanOrEqual(0.0006 / rateAsNumber(r) + 2 / record);
        expect(read.by).toBe('both');
      }),
    );
  });

  it('is read whatever stands in its name and however many blanks', () => {
    expect(readSpeedLine('M2   Bell pit, wide\t\t12.5\t\t\t01:00:00:00')).toEqual({ name: 'Bell pit, wide', speed: '12.5' });
    expect(readSpeedLine('M2 A001 025.0')).toEqual({ name: 'A001', speed: '025.0' });
    expect(readSpeedLine('M2 A001 fast')).toBeNull();
  });
});

describe('speeds in a list', () => {
  const events = (text: string, r = PAL) => {
    const { timelines, findings } = readTimelineFile(`TITLE: X\n${text}`, r);
    return { clips: [...clipEvents(timelines[0]!.timeline.tracks)], codes: findings.map((finding) => finding.code), model: timelines[0]!.timeline };
  };
  const A = '001  A001     V     C        09:14:00:00 09:14:02:00 10:00:00:00 10:00:02:00\n';

  it('a disagreement is told with its line, and the event counts by its lengths', () => {
    const { clips, codes } = events(`${A}M2   A001       020.0                09:14:00:00\n`);
    expect([codes, clips[0]!.speed]).toEqual([['edl-speed-differs'], { num: 1, den: 1 }]);
  });

  it('the speed or the freeze of what a dissolve comes from does not reach the incoming clip', () => {
    const dissolve = (below: string) =>
      `${A}002  A001     V     C        09:14:02:00 09:14:02:00 10:00:02:00 10:00:02:00\n002  A002     V     D    012 09:20:00:00 09:20:02:00 10:00:02:00 10:00:04:00\n${below}`;
    // As the reference adapter writes them: what it comes from first.
    const from = events(dissolve('M2   LADLE\t\t12.5\t\t\t09:14:00:00\n* FROM CLIP NAME:  LADLE FF\n* * FREEZE FRAME\n* TO CLIP NAME:  POUR\n'));
    expect([from.codes, from.clips.map((clip) => clip.speed.num)]).toEqual([['edl-speed-differs'], [1, 1]]);
    const named = events(dissolve('M2   LADLE\t\t12.5\t\t\t09:14:00:00\n* FROM CLIP NAME:  LADLE\n* TO CLIP NAME:  POUR\n'));
    expect([named.codes, named.clips.map((clip) => clip.speed.num)]).toEqual([[], [1, 1]]);
    const to = events(dissolve('* FROM CLIP NAME:  LADLE\n* TO CLIP NAME:  POUR FF\n* * FREEZE FRAME\n'));
    expect(to.clips.map((clip) => [clip.name, clip.speed.num])).toEqual([
      ['A001', 1],
      ['POUR', 0],
    ]);
  });

  it('a source whose out point lies before its in point plays backwards', () => {
    const { clips } = events('001  A001     V     C        09:14:02:00 09:14:00:00 10:00:00:00 10:00:02:00\n');
    expect([clips[0]!.sourceIn.value, clips[0]!.speed]).toEqual([831_000, { num: -1, den: 1 }]);
  });

  it('semicolons say drop-frame where no FCM does', () => {
    const { model, clips } = events('001  A001     V     C        00:10:00;00 00:10:02;00 01:00:00;00 01:00:02;00\n', NTSC);
    expect([model.dropFrame, model.startFrame, clips[0]!.sourceIn.value]).toEqual([true, 107_892, 17_982]);
    expect(events(A, NTSC).model.dropFrame).toBe(false);
    expect(events('001  A001     V     C        00:10:00;00 00:10:02;00 01:00:00;00 01:00:02;00\n').model.dropFrame).toBe(false);
  });

  it('an overlap is told with what is lost of which event; a covered one takes its dissolve along', () => {
    const { clips, codes, model } = events(
      `${A}002  A002     V     D    012 09:20:00:00 09:20:01:00 10:00:01:00 10:00:02:00\n003  A003     V     C        09:30:00:00 09:30:02:00 10:00:01:00 10:00:03:00\n`,
    );
    expect(codes).toEqual(['edl-overlap', 'edl-overlap']);
    const { findings } = readTimelineFile(`TITLE: X\n${A}002  A002     V     C        09:20:00:00 09:20:01:00 10:00:01:10 10:00:02:10\n`, PAL);
    expect(findings[0]!.message).toBe(
      'Event 002 begins before the one above it on its track ends and covers the last 15 frames of event 001 (A001).',
    );
    expect(clips.map((clip) => [clip.name, clip.start, clip.durationFrames])).toEqual([
      ['A001', 0, 25],
      ['A003', 25, 50],
    ]);
    expect(model.tracks[0]!.items.map((item) => item.type)).toEqual(['clip', 'clip']);
  });

  it('what is covered of a reversed event are the first frames of its source', () => {
    const { clips } = events(
      `${A}M2   A001       -025.0               09:14:00:00\n002  A002     V     C        09:20:00:00 09:20:01:00 10:00:01:10 10:00:02:10\n`,
    );
    expect([clips[0]!.sourceIn.value, clips[0]!.durationFrames]).toEqual([831_015, 35]);
  });

  it('channels stand together as they like; a reel may hold blanks', () => {
    const tracks = (column: string) => events(A.replace('V    ', column.padEnd(5))).model.tracks.map((track) => track.name);
    expect(tracks('A1A2')).toEqual(['A1', 'A2']);
    expect(tracks('VA1A2')).toEqual(['V1', 'A1', 'A2']);
    expect(tracks('AA/V')).toEqual(['V1', 'A1', 'A2']);
    expect(tracks('B')).toEqual(['V1', 'A1']);
    expect(events(A.replace('V    ', 'X9   ')).codes).toEqual(['edl-channel']);
    expect(events(A.replace('A001    ', 'Bell pit')).clips[0]!.references[0]!.reel).toBe('Bell pit');
  });
});
