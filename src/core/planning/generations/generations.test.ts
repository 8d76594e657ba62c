/** Generations against a slow model: random deliveries, random goings back. */
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { item, PAL, shelf } from '../../../../tests/helpers/snapshots';
import type { Item } from '../../media/item';
import { clipState, expectedFrom, type Clip, type Rendition } from '../../project/clip';
import type { Snapshot } from '../plan/snapshot';
import { stockOf } from '../plan/stock-view';
import { planGenerations, type GenerationsChange } from './generations';

const NAMES = ['a', 'b', 'c', 'd'];

/** A run, the folder its files came to, the clips that got one, whether its files still stand. */
const delivery = fc.record({
  folder: fc.constantFrom('Grade v1', 'Grade v2'),
  clips: fc.subarray(NAMES, { minLength: 1 }),
  stands: fc.boolean(),
});

interface Made {
  readonly from: Snapshot;
  readonly runs: readonly { readonly run: number; readonly folder: string; readonly clips: readonly string[]; readonly stands: boolean }[];
}

function project(deliveries: readonly { folder: string; clips: string[]; stands: boolean }[]): Made {
  const runs = deliveries.map((own, index) => ({ ...own, run: 3 + 2 * index }));
  const items: Item[] = NAMES.map((name) => item(`${name}.mov`));
  const clips = NAMES.map((name): Clip => {
    const link = (own: Item) => ({ place: own.place, url: '', expected: expectedFrom(own, own.place.path) });
    const later = runs.flatMap(({ run, folder, clips: those, stands }): Rendition[] => {
      if (!those.includes(name)) return [];
      const own = item(`${folder}/${name}_${run}.mov`, {}, { place: { shelfId: 'B', path: `${folder}/${name}_${run}.mov` } });
      if (stands) items.push(own);
      return [{ id: `${name} ${run}`, kind: 'finished', links: [link(own)], cameBy: run }];
    });
    const words = { note: '', colour: '', marks: null, conform: 'by-time', madeBy: 'timeline', binPath: '', mediaStart: null, setAside: false } as const; // prettier-ignore
    return { ...words, id: name, name, mediaKey: name, renditions: [{ id: `${name} source`, kind: 'source', links: [link(items[NAMES.indexOf(name)]!)] }, ...later] }; // prettier-ignore
  });
  const from = {
    project: { id: 'p', name: 'Bronze Hour', rate: PAL, dropFrame: false },
    clips,
    timelines: [],
    shelves: [shelf('A'), shelf('B')],
    items,
  };
  return { from, runs };
}

const planned = (from: Snapshot, read: string | null) => planGenerations(from, { scope: { of: 'project' }, rendition: 'finished', read });
const after = (from: Snapshot, read: string): Snapshot => {
  const [step] = planned(from, read).steps;
  if (!step) return from;
  const { back, on } = (step as unknown as { change: GenerationsChange }).change;
  const turned = (one: Rendition): Rendition => {
    const { isSetBack: _, ...plain } = one;
    return back.includes(one.id) ? { ...one, isSetBack: true } : on.includes(one.id) ? plain : one;
  };
  return { ...from, clips: from.clips.map((clip) => ({ ...clip, renditions: clip.renditions.map(turned) })) };
};

/** By run: number of its generation. A run goes on with the last one only to the same folder, and where they meet in no clip. */
function slowGenerations({ runs }: Made): Map<number, number> {
  const generations: { folder: string; clips: string[]; runs: number[] }[] = [];
  for (const { run, folder, clips } of runs) {
    const last = generations.at(-1);
    const goesOn = last !== undefined && last.folder === folder && clips.every((clip) => !last.clips.includes(clip));
    if (goesOn) {
      last.clips.push(...clips);
      last.runs.push(run);
    } else generations.push({ folder, clips: [...clips], runs: [run] });
  }
  return new Map(generations.flatMap((own, index) => own.runs.map((run) => [run, index] as const)));
}

describe('generations', () => {
  it('each clip reads the latest that stands there, no later than the one that was chosen, whatever was chosen before', () => {
    fc.assert(
      fc.property(fc.array(delivery, { minLength: 1, maxLength: 6 }), fc.array(fc.nat(6), { maxLength: 4 }), (deliveries, choices) => {
        const made = project(deliveries);
        const slow = slowGenerations(made);
        const keys = planned(made.from, null).detail.generations.map(({ key }) => key);
        expect(keys.length).toBe(new Set(slow.values()).size);
        let from = made.from;
        let chosen = keys.length - 1;
        for (const choice of choices) {
          chosen = (choice % (keys.length + 1)) - 1;
          from = after(from, chosen < 0 ? 'none' : keys[chosen]!);
          expect(planned(from, chosen < 0 ? 'none' : keys[chosen]!).blocked).toBe('That is what is read already.');
        }
        for (const { name, readsNow } of planned(from, null).detail.rows) {
          const runs = made.runs.filter(({ run, clips, stands }) => stands && clips.includes(name) && slow.get(run)! <= chosen);
          const last = runs.at(-1);
          expect([name, readsNow]).toEqual([name, last ? keys[slow.get(last.run)!]! : null]);
        }
        // Sources stand there, so that nothing is ever offline.
        expect(from.clips.every((clip) => clipState(clip, stockOf(from)) === 'present')).toBe(true);
      }),
      { numRuns: 1_000 },
    );
  });

  it('what it says would be read is what is read then', () => {
    fc.assert(
      fc.property(fc.array(delivery, { minLength: 1, maxLength: 5 }), fc.nat(5), (deliveries, choice) => {
        const { from } = project(deliveries);
        const keys = ['none', ...planned(from, null).detail.generations.map(({ key }) => key)];
        const read = keys[choice % keys.length]!;
        const told = planned(from, read).detail;
        const then = planned(after(from, read), null).detail;
        expect(then.rows.map(({ readsNow, now }) => [readsNow, now])).toEqual(told.rows.map(({ readsThen, then: state }) => [readsThen, state]));
        expect(then.generations.map(({ readNow }) => readNow)).toEqual(told.generations.map(({ readThen }) => readThen));
      }),
      { numRuns: 300 },
    );
  });
});
