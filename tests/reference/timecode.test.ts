/**
 * Drop-frame and the rest of the clock against published values and other people's code.
 * Sources: SMPTE ST 12-1 (the facts written out below), OpenTimelineIO 0.18.1 (vectors/timecode.csv),
 * smpte-timecode from the npm registry, ffmpeg and ffprobe.
 */
import { readFileSync } from 'node:fs';
import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import SmpteTimecode from 'smpte-timecode';
import { describe, expect, it } from 'vitest';
import { canDropFrame, nominalFps, rate, rateFromNumber } from '../../src/core/time/rate';
import { framesPerDay, frameToTimecode, parseTimecode } from '../../src/core/time/timecode';
import { probeFacts } from '../../src/server/media/probe';
import { makeIntra } from '../helpers/small-house';

const two = (value: number) => String(value).padStart(2, '0');
const NTSC = rate(30000, 1001);
const NTSC60 = rate(60000, 1001);

describe('SMPTE ST 12-1', () => {
  it.each([
    ['00:10:00;00', 17_982],
    ['01:00:00;00', 107_892],
    ['19:00:00;02', 2_049_950],
    ['00:01:00;02', 1800],
  ])('%s is frame %i at 30000/1001 drop-frame', (label, frame) => {
    expect(parseTimecode(label, NTSC)).toMatchObject({ ok: true, frame });
    expect(frameToTimecode(frame, NTSC, true)).toBe(label);
  });
  it('counts 2 589 408 frames in 24 hours, and 5 178 816 at 60000/1001', () => {
    expect(framesPerDay(NTSC, true)).toBe(2_589_408);
    expect(framesPerDay(NTSC60, true)).toBe(5_178_816);
    expect(parseTimecode('01:00:00;00', NTSC60)).toMatchObject({ ok: true, frame: 215_784 });
  });
});

it('agrees with OpenTimelineIO on every row of its table', () => {
  const rows = readFileSync(new URL('./vectors/timecode.csv', import.meta.url), 'utf8')
    .trim()
    .split('\n')
    .slice(1);
  expect(rows.length).toBeGreaterThan(700);
  for (const row of rows) {
    const [units, frame, label] = row.split(',') as [string, string, string];
    const r = rateFromNumber(parseFloat(units));
    const drop = label.includes(';');
    expect(frameToTimecode(Number(frame), r, drop), row).toBe(label);
    expect(parseTimecode(label, r, drop), row).toMatchObject({ ok: true, frame: Number(frame) });
  }
});

it('agrees with smpte-timecode for the first frames of every minute of a day, dropping and not', () => {
  for (const [r, fps] of [
    [NTSC, 29.97],
    [NTSC60, 59.94],
  ] as const) {
    for (let minute = 0; minute < 1440; minute++) {
      const frame = Math.floor((minute * framesPerDay(r, true)) / 1440);
      for (const near of [frame - 1, frame, frame + 1]) {
        if (near < 0) continue;
        expect(frameToTimecode(near, r, true)).toBe(new SmpteTimecode(near, fps, true).toString());
      }
    }
  }
});

it('drops and keeps the same labels as smpte-timecode at the begin of every minute of a day', () => {
  for (const [r, fps, dropped] of [
    [NTSC, 29.97, 2],
    [NTSC60, 59.94, 4],
  ] as const) {
    for (let minute = 0; minute < 1440; minute++) {
      const label = (frame: number) => `${two(Math.floor(minute / 60))}:${two(minute % 60)}:00;${two(frame)}`;
      for (let frame = 0; frame <= dropped; frame++) {
        const ours = parseTimecode(label(frame), r, true);
        const left = minute % 10 !== 0 && frame < dropped;
        expect(ours.ok, label(frame)).toBe(!left);
        if (!ours.ok) expect(ours.reason).toContain('leaves out');
        else expect(ours.frame, label(frame)).toBe(new SmpteTimecode(label(frame), fps, true).frameCount);
      }
    }
  }
});

it('agrees with exact arithmetic at 23:59:59, above 19 hours and over midnight, at every rate', () => {
  // SMPTE ST 12-1: a label is the count since midnight in nominal frames, dropped labels left out.
  for (const r of [
    rate(24_000, 1001),
    rate(24),
    rate(25),
    NTSC,
    rate(30),
    rate(48_000, 1001),
    rate(48),
    rate(50),
    NTSC60,
    rate(60),
    rate(120_000, 1001),
    rate(120),
  ]) {
    for (const drop of canDropFrame(r) ? [false, true] : [false]) {
      const day = framesPerDay(r, drop);
      const separator = drop ? ';' : ':';
      const digits = nominalFps(r) > 100 ? 3 : 2;
      expect(frameToTimecode(day - 1, r, drop)).toBe(`23:59:59${separator}${String(nominalFps(r) - 1).padStart(digits, '0')}`);
      expect(frameToTimecode(day, r, drop)).toBe(`00:00:00${separator}${'0'.repeat(digits)}`);
      expect(frameToTimecode(-1, r, drop)).toBe(frameToTimecode(day - 1, r, drop));
      expect(() => frameToTimecode(-1, r, drop, 'refuse')).toThrow('before 00:00:00:00');
      expect(() => frameToTimecode(day, r, drop, 'refuse')).toThrow('after the last frame of the day');
      const from = Math.floor((19 * day) / 24);
      for (let frame = from; frame < day; frame += 9973) expect(parseTimecode(frameToTimecode(frame, r, drop), r)).toMatchObject({ ok: true, frame });
    }
  }
});

it('reads from ffprobe the label that ffmpeg was told, drop-frame included, late in the day', async () => {
  const folder = mkdtempSync(join(tmpdir(), 'mill-tc-'));
  try {
    for (const [label, r] of [
      ['19:00:00;02', '30000/1001'],
      ['23:59:58;10', '30000/1001'],
      ['00:01:00;04', '60000/1001'],
      ['19:00:00:05', '25'],
      ['10:00:00:23', '24000/1001'],
    ] as const) {
      const file = join(folder, 'a.mov');
      await makeIntra(file, 4, label, r);
      const facts = await probeFacts(file, null);
      expect(facts.startTimecode).toBe(label);
      expect(facts.dropFrame).toBe(label.includes(';') && canDropFrame(facts.rate!));
      expect(frameToTimecode(facts.startFrame!, facts.rate!, facts.dropFrame)).toBe(label);
      expect(facts.reel).toBe('A001');
      expect(facts.durationFrames).toBe(4);
    }
  } finally {
    rmSync(folder, { recursive: true });
  }
});
