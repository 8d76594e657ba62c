/**
 * Examples worked out by hand from what was published, and the same ones put to the reference readers live.
 * Sources: SMPTE ST 12-1 (drop-frame counting); the edit decision list as published with the CMX 3600 (its columns,
 * M2, BL, AX and dissolve lines from memory, so each is also read by the CMX 3600 adapter 1.0.0); the OpenTimelineIO
 * documentation (half-open ranges, transitions, time warps; from memory, so each is also asked of OpenTimelineIO 0.18.1).
 */
import { execFileSync } from 'node:child_process';
import { resolve } from 'node:path';
import { describe, expect, it } from 'vitest';
import {
  clipDocument,
  externalReference,
  formatOtio,
  gapDocument,
  rationalTime,
  timelineDocument,
  timeRange,
  timeWarp,
  trackDocument,
  transitionDocument,
} from '../../src/core/interchange/otio/otio-writer';
import { readTimelineFile } from '../../src/core/interchange/read-timeline-file';
import { clipEvents } from '../../src/core/project/timeline';
import { collectUses } from '../../src/core/project/usage';
import { rate } from '../../src/core/time/rate';

const python = (script: string, input: string) =>
  JSON.parse(execFileSync(resolve('.venv/bin/python'), ['-c', script], { encoding: 'utf8', input })) as unknown;

describe('CMX 3600 lists', () => {
  const READ = `
import json, sys
import opentimelineio as otio
t = otio.adapters.read_from_string(sys.stdin.read(), adapter_name="cmx_3600", rate=24)
print(json.dumps([[c.name, c.trimmed_range().start_time.value, c.trimmed_range().duration.value, [e.time_scalar for e in c.effects if hasattr(e, "time_scalar")]] for c in t.tracks[0].find_clips()]))
`;
  const LIST = `TITLE: BELL
FCM: NON-DROP FRAME

001  A001     V     C        01:00:00:00 01:00:02:00 01:00:00:00 01:00:02:00
* FROM CLIP NAME: FORK
002  A002     V     C        01:00:10:00 01:00:12:00 01:00:02:00 01:00:03:00
M2   A002       048.0                01:00:10:00
* FROM CLIP NAME: FAST
003  A003     V     C        01:00:20:00 01:00:20:12 01:00:03:00 01:00:04:00
M2   A003       012.0                01:00:20:00
* FROM CLIP NAME: SLOW
004  A004     V     C        01:00:30:00 01:00:31:00 01:00:04:00 01:00:05:00
* FROM CLIP NAME: LAST
`;

  it('48 frames of source in 24 of record are twice the speed, 12 in 24 are half; so the reference reads it too', () => {
    const events = [...clipEvents(readTimelineFile(LIST, rate(24)).timelines[0]!.timeline.tracks)];
    const ours = events.map((event) => [event.name, event.sourceIn.value, event.sourceDuration.value, event.speed.num / event.speed.den]);
    expect(ours).toEqual([
      ['FORK', 86_400, 48, 1],
      ['FAST', 86_640, 24, 2],
      ['SLOW', 86_880, 24, 0.5],
      ['LAST', 87_120, 24, 1],
    ]);
    const theirs = python(READ, LIST) as [string, number, number, number[]][];
    expect(theirs.map(([name, start, length, speeds]) => [name, start, length, speeds[0] ?? 1])).toEqual(ours);
  });

  it('reads 48 source frames of the fast event, 13 of the slow one at least', () => {
    const uses = collectUses(readTimelineFile(LIST, rate(24)).timelines[0]!.timeline, { countDisabled: false });
    expect(uses[1]!.source).toEqual({ start: 86_640, end: 86_688 });
    // The last of 24 record frames stands at 11.5: frames 11 and 12 are read.
    expect(uses[2]!.source.end).toBeGreaterThanOrEqual(86_880 + 13);
  });

  it('drop-frame minutes: 00:00:30;00 to 00:01:30;00 are 1798 frames, for two labels are left out', () => {
    const list = 'TITLE: D\nFCM: DROP FRAME\n001  A001     V     C        00:00:30;00 00:01:30;00 01:00:30;00 01:01:30;00\n';
    const event = [...clipEvents(readTimelineFile(list, rate(30_000, 1001)).timelines[0]!.timeline.tracks)][0]!;
    expect([event.sourceIn.value, event.sourceDuration.value, event.durationFrames]).toEqual([900, 1798, 1798]);
  });

  it('black is nothing, a dissolve of 12 begins at its record in point', () => {
    const list = `TITLE: B
001  BL       V     C        00:00:00:00 00:00:00:00 01:00:00:00 01:00:00:00
001  A001     V     D    012 01:00:00:00 01:00:02:00 01:00:00:00 01:00:02:00
`;
    const items = readTimelineFile(list, rate(24)).timelines[0]!.timeline.tracks[0]!.items;
    expect(items.map((item) => [item.type, item.start, item.durationFrames])).toEqual([
      ['transition', 0, 12],
      ['clip', 0, 48],
    ]);
  });
});

describe('OpenTimelineIO', () => {
  const PAL = rate(25);
  const reference = externalReference('a.mov', 'a', timeRange(0, 500, PAL));
  const clip = (from: number, length: number, speed = 1) =>
    clipDocument(`${from}`, timeRange(from, length, PAL), reference, speed === 1 ? [] : [timeWarp(speed)]);
  const document = timelineDocument('t', rationalTime(0, PAL), [
    trackDocument('V1', 'Video', [gapDocument(10, PAL), clip(100, 50), transitionDocument(5, 8, PAL), clip(200, 40), clip(300, 20, 2)]),
  ]);
  const ASK = `
import json, sys
import opentimelineio as otio
t = otio.adapters.read_from_string(sys.stdin.read(), adapter_name="otio_json")
print(json.dumps([[c.visible_range().start_time.value, c.visible_range().end_time_exclusive().value, c.range_in_parent().start_time.value] for c in t.find_clips()]))
`;

  it('a range ends before its end; a transition shows more of both sides: the frames it shows are the frames that count', () => {
    const uses = collectUses(readTimelineFile(formatOtio(document), PAL).timelines[0]!.timeline, { countDisabled: false });
    const ours = uses.map((use) => [use.source.start, use.source.end, use.recordStart]);
    expect(ours).toEqual([
      [100, 158, 10],
      [195, 240, 60],
      // Twice as fast: 40 source frames in 20 of record. The library gives the record length.
      [300, 340, 100],
    ]);
    const theirs = python(ASK, formatOtio(document)) as number[][];
    expect(theirs.slice(0, 2)).toEqual(ours.slice(0, 2));
    expect(theirs[2]).toEqual([300, 320, 100]);
  });
});
