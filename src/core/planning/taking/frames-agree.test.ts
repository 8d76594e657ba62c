/**
 * Which frames of a file an event reads, and which of them another file lacks: against a model that knows what each event was made
 * to show. Usage, exchange and finish check are held to it with all kinds of numbering, holes, midnight, ranges stated or not.
 */
import fc from 'fast-check';
import { expect, it } from 'vitest';
import { item, snapshot, timeline } from '../../../../tests/helpers/snapshots';
import { clipDocument, externalReference, timeRange } from '../../interchange/otio/otio-writer';
import type { MediaFacts, SequenceFacts } from '../../media/item';
import { expectedFrom, type Clip, type Rendition } from '../../project/clip';
import { clamp, unite } from '../../time/range';
import { rate } from '../../time/rate';
import { framesPerDay } from '../../time/timecode';
import { reportUsage } from '../../usage/usage-report';
import { planExchange } from '../exchange/exchange';
import { planFinish } from '../finish/finish';

const RATES = [rate(25), rate(24_000, 1001), rate(30_000, 1001), rate(50)];
const LENGTH = 400;

const CASE = fc.record({
  at: fc.constantFrom(...RATES),
  isSequence: fc.boolean(),
  /** Where the file's timecode begins: none, an hour, or so many frames before midnight. */
  begins: fc.constantFrom('none', 'hour', 'night'),
  before: fc.integer({ min: 5, max: LENGTH - 5 }),
  firstNumber: fc.constantFrom(0, 1, 1001, 86_400),
  holes: fc.array(fc.tuple(fc.integer({ min: 1, max: LENGTH - 8 }), fc.integer({ min: 1, max: 6 })), { maxLength: 3 }),
  events: fc.array(fc.tuple(fc.integer({ min: 0, max: LENGTH - 2 }), fc.integer({ min: 1, max: 60 })), { minLength: 1, maxLength: 3 }),
  /** What the timeline counts from: the label of the day, or on over midnight; a file without timecode from 0. */
  isStated: fc.boolean(),
  isWrapped: fc.boolean(),
  /** Frames [from, to) that another file holds, and whether it has timecode. */
  part: fc.tuple(fc.integer({ min: 0, max: LENGTH - 20 }), fc.integer({ min: 6, max: LENGTH })),
  otherIsSequence: fc.boolean(),
});

function sequenceOf(firstNumber: number, length: number, holes: readonly (readonly [number, number])[]): SequenceFacts {
  const gone = new Set(holes.flatMap(([start, frames]) => Array.from({ length: frames }, (_, index) => start + index)).filter((frame) => frame > 0 && frame < length - 1)); // prettier-ignore
  const sorted = [...gone].sort((a, b) => a - b);
  const missingRuns = sorted.reduce<[number, number][]>((runs, frame) => {
    const last = runs.at(-1);
    if (last?.[1] === firstNumber + frame - 1) last[1]++;
    else runs.push([firstNumber + frame, firstNumber + frame]);
    return runs;
  }, []);
  return { prefix: 'a.', suffix: '.dpx', padding: 6, firstNumber, lastNumber: firstNumber + length - 1, missingRuns };
}

const isMissing = (facts: Pick<MediaFacts, 'sequence' | 'durationFrames'>, frame: number) =>
  frame < 0 || frame >= facts.durationFrames! || (facts.sequence?.missingRuns ?? []).some(([first, last]) => frame + facts.sequence!.firstNumber >= first && frame + facts.sequence!.firstNumber <= last); // prettier-ignore

it('usage, exchange and finish check name the very frames, however they are numbered and counted', () => {
  const seen = { ready: 0, lacking: 0, night: 0, exchanged: 0 };
  fc.assert(
    fc.property(CASE, ({ at, isSequence, begins, before, firstNumber, holes, events, isStated, isWrapped, part, otherIsSequence }) => {
      const day = framesPerDay(at, false);
      const startFrame = begins === 'none' ? null : begins === 'hour' ? Math.round((at.num / at.den) * 3600) : day - before;
      const own: Partial<MediaFacts> = { kind: isSequence ? 'sequence' : 'video', rate: at, durationFrames: LENGTH, startFrame, reel: null, sequence: isSequence ? sequenceOf(firstNumber, LENGTH, holes) : null }; // prettier-ignore
      const source = item('a.mov', own);
      const from = startFrame ?? 0;
      const label = (frame: number) => (isWrapped ? (from + frame) % day : from + frame);
      const cuts = events.map(([start, length]) => [start, Math.min(length, LENGTH - start)] as const);
      const documents = cuts.map(([start, length]) => clipDocument('a.mov', timeRange(label(start), length, at), externalReference('a.mov', 'a.mov', isStated ? timeRange(from, LENGTH, at) : null))); // prettier-ignore
      const made = snapshot({ timelines: [timeline('t', documents)], items: [source] });
      const house = { ...made, clips: made.clips.map((clip): Clip => ({ ...clip, mediaStart: null })) };

      const usage = reportUsage(house, { timelineIds: ['t'], bins: [], clipIds: [], countDisabled: false }).items[0]!;
      expect(usage.used).toEqual(clamp(unite(cuts.map(([start, length]) => ({ start, end: start + length }))), { start: 0, end: LENGTH }));

      const lackingIn = (facts: Pick<MediaFacts, 'sequence' | 'durationFrames'>, offset: number) =>
        cuts.map(([start, length]) => Array.from({ length }, (_, index) => start + index - offset).filter((frame) => isMissing(facts, frame)).length);
      const finish = (all: typeof house) =>
        planFinish(all, { timelineId: 't', countDisabled: false }).detail.rows.map(({ problems }) => Number(/^\d+/.exec(problems.find(({ is }) => is === 'frames')?.words ?? '0')![0])); // prettier-ignore
      const inOrder = (values: readonly number[]) => [...values].sort((a, b) => a - b);
      expect(inOrder(finish(house))).toEqual(inOrder(lackingIn(source.facts, 0)));

      // Another file that holds a part, known by its timecode or by the numbers of its source.
      const [first, length] = [part[0], Math.max(6, Math.min(part[1], LENGTH - part[0]))];
      const numbers = otherIsSequence ? sequenceOf((isSequence ? firstNumber : from) + first, length, holes) : null;
      const hasTimecode = startFrame !== null && !(otherIsSequence && isSequence);
      if (!hasTimecode && !numbers) return;
      // Numbers by which nothing can be told: they begin where those of any rendered frames do.
      if (!hasTimecode && (first !== 0 || !isSequence)) return;
      // Numbers that lie within the timecode of the source too, past midnight: either may be meant, and the worse counts.
      const asTimecode = startFrame === null || !numbers ? -1 : (numbers.firstNumber - startFrame + day) % day;
      if (!hasTimecode && asTimecode !== first && asTimecode >= 0 && asTimecode + length <= LENGTH) return;
      const facts: Partial<MediaFacts> = { kind: numbers ? 'sequence' : 'video', rate: at, durationFrames: length, startFrame: hasTimecode ? (from + first) % day : null, reel: null, sequence: numbers }; // prettier-ignore
      const other = item('Grade/a_graded.mov', facts, { place: { shelfId: 'B', path: 'Grade/a_graded.mov' }, modifiedMs: 5 });
      const expected = lackingIn(other.facts, first);
      const rendition: Rendition = {
        id: 'f',
        kind: 'finished',
        links: [{ place: other.place, url: '', expected: expectedFrom(other, 'a_graded.mov') }],
      };
      const graded = { ...house, items: [source, other], clips: house.clips.map((clip): Clip => ({ ...clip, renditions: [...clip.renditions, rendition] })) }; // prettier-ignore
      expect(inOrder(finish(graded))).toEqual(inOrder(expected));
      const plan = planExchange(graded, { timelineId: 't', scope: { of: 'project' }, among: 'finished', place: null, endings: '_graded', inFolders: '', what: 'picture', parts: false,
  newest: false, inPlace: false, name: '', choices: {} }, []); // prettier-ignore
      const missing = plan.detail.rows.map(({ fate, candidates }) => (fate === 'exchanged' ? 0 : Math.max(0, ...candidates.map(({ misfits }) => Number(/^\d+(?= frames? lack)/.exec(misfits[0] ?? '')?.[0] ?? NaN))))); // prettier-ignore
      for (const [index, row] of plan.detail.rows.entries()) {
        const lacks = expected[index]!;
        expect(row.fate === 'exchanged', row.why).toBe(lacks === 0);
        if (lacks > 0 && lacks < cuts[index]![1]) expect(missing[index]).toBe(lacks);
      }
      seen.exchanged += plan.detail.rows.filter(({ fate }) => fate === 'exchanged').length;
      seen.ready += expected.filter((frames) => frames === 0).length;
      seen.lacking += expected.filter((frames) => frames > 0).length;
      if (begins === 'night') seen.night++;
    }),
    { numRuns: 600 },
  );
  for (const count of Object.values(seen)) expect(count).toBeGreaterThan(30);
});
