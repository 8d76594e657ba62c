/** Our reading of OTIO and EDL against the answers of OpenTimelineIO 0.18.1 and its CMX 3600 adapter 1.0.0. */
import { readFileSync } from 'node:fs';
import { describe, expect, it } from 'vitest';
import { readOtio } from '../../src/core/interchange/otio/otio-reader';
import { readTimelineFile } from '../../src/core/interchange/read-timeline-file';
import { ceilFrames, floorFrames } from '../../src/core/project/moment';
import { clipEvents, type Track } from '../../src/core/project/timeline';
import { collectUses } from '../../src/core/project/usage';
import { rate, rateAsNumber } from '../../src/core/time/rate';

const vector = (name: string) => readFileSync(new URL(`./vectors/${name}`, import.meta.url), 'utf8');

interface ExpectedRange {
  start: [number, number];
  duration: [number, number];
}
interface Expected {
  duration: [number, number];
  clips: { name: string; trimmed: ExpectedRange; visible: ExpectedRange; inParent: ExpectedRange; inTimeline: ExpectedRange }[];
}

describe.each([0, 1, 2])('fine_cut_%i.otio', (number) => {
  const { timelines, findings } = readOtio(vector(`otio/fine_cut_${number}.otio`), rate(25));
  const expected = JSON.parse(vector(`otio/fine_cut_${number}.expected.json`)) as Expected;
  const { timeline } = timelines[0]!;
  const events = [...clipEvents(timeline.tracks)];

  it('has the same clips in the same order with the same trimmed ranges', () => {
    expect(findings).toEqual([]);
    expect(events.map((event) => event.name)).toEqual(expected.clips.map((clip) => clip.name));
    events.forEach((event, index) => {
      const { trimmed } = expected.clips[index]!;
      expect([event.sourceIn.value, rateAsNumber(event.sourceIn.rate)]).toEqual([trimmed.start[0], expect.closeTo(trimmed.start[1], 3)]);
      expect([event.sourceDuration.value, rateAsNumber(event.sourceDuration.rate)]).toEqual([
        trimmed.duration[0],
        expect.closeTo(trimmed.duration[1], 3),
      ]);
    });
  });

  it('has the same places in the parent and the same length', () => {
    events.forEach((event, index) => {
      const { inParent } = expected.clips[index]!;
      expect(event.start).toBe(Math.floor((inParent.start[0] / inParent.start[1]) * rateAsNumber(timeline.rate) + 1e-6));
    });
    expect(timeline.durationFrames).toBe(Math.floor((expected.duration[0] / expected.duration[1]) * rateAsNumber(timeline.rate) + 1e-6));
  });

  it('reads at least every visible frame, transitions included, of each clip at normal speed', () => {
    const uses = collectUses(timeline, { countDisabled: true });
    expect(uses.length).toBeGreaterThan(0);
    for (const use of uses) {
      if (use.event.speed.num !== use.event.speed.den || use.nestedIn.length > 0) continue;
      const { visible } = expected.clips[use.event.index]!;
      const start = { value: visible.start[0], rate: use.rate };
      const end = { value: visible.start[0] + visible.duration[0], rate: use.rate };
      expect(use.source.start).toBeLessThanOrEqual(ceilFrames(start, use.rate));
      expect(use.source.end).toBeGreaterThanOrEqual(floorFrames(end, use.rate));
    }
  });
});

it('reads a Clip.1 document, and the clips of a collection that stand on no timeline', () => {
  const older = readOtio(vector('otio/older_schema.otio'), rate(25));
  expect([...clipEvents(older.timelines[0]!.timeline.tracks)].every((event) => event.references.length === 1)).toBe(true);
  const bins = readOtio(vector('otio/bins.otio'), rate(25));
  expect(bins.timelines).toHaveLength(1);
  expect(bins.clips.length).toBeGreaterThan(0);
});

describe('reel_1.edl', () => {
  const ours = readTimelineFile(vector('edl/reel_1.edl'), rate(25));
  const theirs = readOtio(vector('edl/reel_1.as_read.otio'), rate(25));
  const picture = (tracks: readonly Track[]) => [...clipEvents(tracks.filter((track) => track.kind === 'video'))];

  it('is understood as the reference adapter understands it, picture by picture', () => {
    const a = picture(ours.timelines[0]!.timeline.tracks);
    // It makes a clip of black, we a gap.
    const b = picture(theirs.timelines[0]!.timeline.tracks).filter((event) => event.name !== '004');
    expect(a.map((event) => event.name)).toEqual(b.map((event) => event.name));
    const points = (events: typeof a) => events.map((event) => [event.sourceIn.value, event.sourceDuration.value]);
    // A second opinion, not the truth: it gives the half-speed event its source length, we its record length.
    const normal = (_: unknown, index: number) => a[index]!.speed.num === a[index]!.speed.den && b[index]!.speed.num === b[index]!.speed.den;
    expect(points(a).filter(normal)).toEqual(points(b).filter(normal));
  });

  it('keeps what the slow event says: half speed, two seconds of record', () => {
    const slow = picture(ours.timelines[0]!.timeline.tracks).find((event) => event.speed.num !== event.speed.den)!;
    expect([slow.speed, slow.durationFrames]).toEqual([{ num: 1, den: 2 }, 50]);
  });
});
