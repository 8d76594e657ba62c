/** Random timelines pulled: in its part every event reads the very frames it read in the whole file. */
import fc from 'fast-check';
import { expect, it } from 'vitest';
import { documentOf, RANDOM_CUT } from '../../../../tests/helpers/random-cuts';
import { item, PAL, plain, snapshot, SOUND } from '../../../../tests/helpers/snapshots';
import { readTimeline } from '../../interchange/otio/otio-reader';
import type { MediaFacts } from '../../media/item';
import { countsFrom, unstatedSpans } from '../../project/counting';
import { collectUses, itemRange } from '../../project/usage';
import { clamp } from '../../time/range';
import type { TrimStep, WriteStep } from '../plan/step';
import { planPull } from './pull';

const SETTINGS = {
  timelineIds: ['t'],
  media: 'parts' as const,
  headFrames: 3,
  tailFrames: 2,
  joinGapFrames: 0,
  countDisabled: false,
  destination: { shelfId: 'B', path: '' },
  folderName: 'pulled',
};

it('an event reads the same frames in its part as in the whole', () => {
  let compared = 0;
  fc.assert(
    fc.property(RANDOM_CUT, (one) => {
      const facts: Partial<MediaFacts> = one.sound ? { ...SOUND, durationFrames: 48_000 * 60, startFrame: one.ownStart } : { rate: one.mediaRate, durationFrames: 1500, startFrame: one.ownStart }; // prettier-ignore
      const media = item('a.mov', facts);
      const base = snapshot({ timelines: [documentOf(one)], items: [media] });
      const from = { ...base, clips: base.clips.map((clip) => ({ ...clip, conform: one.byFrame ? ('by-frame' as const) : ('by-time' as const) })) };
      const { steps } = planPull(from, SETTINGS);
      const write = steps.find((step): step is WriteStep => step.action === 'write');
      if (!write || write.content.type !== 'timeline') return;
      const trims = steps.filter((step): step is TrimStep => step.action === 'trim');
      const parts = new Map(trims.map((step) => [`..${step.to!.path.slice('pulled'.length)}`, step.range]));
      const [timeline] = from.timelines;
      const clip = from.clips[0]!;
      const spans = unstatedSpans(timeline!.model, timeline!.clipIds);
      const before = collectUses(timeline!.model, { countDisabled: false });
      const after = collectUses(readTimeline(JSON.parse(plain(write.content.text)), PAL)!, { countDisabled: false });
      expect(after.length).toBe(before.length);
      before.forEach((use, index) => {
        const whole = itemRange(use, countsFrom(use.event, clip, media.facts, spans.get(clip.id) ?? null), media.facts, clip.conform);
        const inside = clamp([whole], { start: 0, end: media.facts.durationFrames! })[0];
        if (!inside) return;
        const now = after[index]!;
        const reference = now.event.references[0]!;
        const part = parts.get(reference.url!) ?? { start: 0, end: media.facts.durationFrames! };
        const partFacts = { ...media.facts, startFrame: media.facts.startFrame === null ? null : media.facts.startFrame + part.start, durationFrames: part.end - part.start }; // prettier-ignore
        const [source] = clip.renditions;
        const [link] = source!.links;
        const expected = { ...link!.expected, ...(reference.source?.part ? { partOf: { ...reference.source.part, print: null } } : {}) };
        const partClip = { ...clip, mediaStart: reference.availableStart, renditions: [{ ...source!, links: [{ ...link!, expected }] }] };
        const start = countsFrom(now.event, partClip, partFacts, null);
        const read = itemRange(now, start, partFacts, reference.byFrame ? 'by-frame' : 'by-time');
        expect({ start: read.start + part.start, end: read.end + part.start }).toEqual(whole);
        // The clip that reads the whole reads the same frames by it.
        expect(itemRange(now, countsFrom(now.event, clip, media.facts, null), media.facts, reference.byFrame ? 'by-frame' : 'by-time')).toEqual(
          whole,
        );
        expect(part.start <= inside.start && part.end >= inside.end).toBe(true);
        compared++;
      });
    }),
    { numRuns: 1500 },
  );
  expect(compared).toBeGreaterThan(1000);
});
