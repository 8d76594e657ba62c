import fc from 'fast-check';
import { expect, it } from 'vitest';
import { documentOf, RANDOM_CUT } from '../../../../tests/helpers/random-cuts';
import { item, snapshot } from '../../../../tests/helpers/snapshots';
import { covers } from '../../time/range';
import { otherTimelinesUsing, PULLED } from './other-timelines';
import { findUsedMedia } from './used-media';

const SETTINGS = { timelineIds: ['t0'], media: 'parts' as const, headFrames: 60, tailFrames: 60, joinGapFrames: 30, countDisabled: false };

it('names the timelines of which any used part would not be kept, and no others', () => {
  const seen = { loses: 0, keeps: 0 };
  fc.assert(
    fc.property(fc.array(RANDOM_CUT, { minLength: 3, maxLength: 3 }), fc.boolean(), (cuts, countDisabled) => {
      const [{ mediaRate: rate, ownStart: startFrame }] = cuts as [(typeof cuts)[0]];
      const timelines = cuts.map((cut, index) => ({ ...documentOf(cut), name: index === 2 && countDisabled ? `t2${PULLED}` : `t${index}` }));
      const whole = snapshot({ timelines, items: [item('a.mov', { rate, startFrame })] });
      const settings = { ...SETTINGS, countDisabled };
      const media = findUsedMedia(whole, settings);
      const slowly = whole.timelines.slice(1).filter(({ id }) => {
        const alone = findUsedMedia(whole, { ...settings, timelineIds: [id], headFrames: 0, tailFrames: 0, joinGapFrames: 0 });
        return alone.items.some(({ used }) => media.items[0] && media.items[0].method !== 'whole' && !covers(media.items[0].kept, used));
      });
      const names = slowly.map(({ id }) => id).filter((id) => !id.endsWith(PULLED));
      expect(otherTimelinesUsing(whole, settings, media)).toEqual(names);
      seen.loses += names.length;
      seen.keeps += 2 - names.length;
    }),
    { numRuns: 300 },
  );
  expect(Math.min(seen.loses, seen.keeps)).toBeGreaterThan(50);
});
