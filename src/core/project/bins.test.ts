import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { allBins, BinError, changeClips, dissolveBin, makeBin, moveBin, nameOf, parentOf, renameBin, type BinChange, type BinState } from './bins';
import type { Clip } from './clip';

const clip = (id: string, binPath: string) => ({ id, binPath, name: id, note: '' }) as Clip;

/** What the catalogue does with a change, in memory. */
function apply(state: BinState, change: BinChange): BinState {
  const bins = new Map(state.bins.map((bin) => [bin.path, bin]));
  const clips = new Map(state.clips.map((entry) => [entry.id, entry]));
  for (const path of change.dropBins) bins.delete(path);
  for (const bin of change.putBins) bins.set(bin.path, bin);
  for (const entry of change.putClips) clips.set(entry.id, entry);
  for (const id of change.dropClips) clips.delete(id);
  return { bins: [...bins.values()], clips: [...clips.values()] };
}

const NAMES = ['A', 'B', 'Day 1', 'a/b', 'Ü'];
type Edit = (state: BinState, pick: (list: readonly string[]) => string) => BinChange;
const EDITS: Edit[] = [
  (state, pick) => makeBin(state, pick(['', ...allBins(state).map((bin) => bin.path)]), pick(NAMES)),
  (state, pick) => renameBin(state, pick(allBins(state).map((bin) => bin.path)), pick(NAMES)),
  (state, pick) => moveBin(state, pick(allBins(state).map((bin) => bin.path)), pick(['', ...allBins(state).map((bin) => bin.path)])),
  (state, pick) => dissolveBin(state, pick(allBins(state).map((bin) => bin.path))),
  (state, pick) => changeClips(state, [pick(['x', 'y', 'z'])], { binPath: pick(['', ...allBins(state).map((bin) => bin.path)]) }),
];

describe('bins', () => {
  it('after any edits no clip is lost, every bin has its parents, and no two have one path', () => {
    fc.assert(
      fc.property(fc.array(fc.tuple(fc.nat(EDITS.length - 1), fc.nat(1000), fc.nat(1000)), { maxLength: 25 }), (edits) => {
        let state: BinState = { bins: [], clips: [clip('x', ''), clip('y', 'Day 1/Hall'), clip('z', '')] };
        for (const [which, one, two] of edits) {
          const numbers = [one, two];
          const pick = (list: readonly string[]) => list[(numbers.shift() ?? 0) % Math.max(1, list.length)] ?? 'nothing';
          try {
            state = apply(state, EDITS[which]!(state, pick));
          } catch (error) {
            expect(error).toBeInstanceOf(BinError);
          }
          expect(state.clips.map((entry) => entry.id).sort()).toEqual(['x', 'y', 'z']);
          const paths = allBins(state).map((bin) => bin.path);
          expect(new Set(paths).size).toBe(paths.length);
          for (const path of paths) {
            expect(parentOf(path) === '' || paths.includes(parentOf(path))).toBe(true);
            expect(nameOf(path)).not.toContain('/');
          }
          for (const entry of state.clips) expect(entry.binPath === '' || paths.includes(entry.binPath)).toBe(true);
        }
      }),
    );
  });

  it('stand in the order of a tree, numbers by size', () => {
    const state = { bins: ['Day 10', 'Day 2', 'Day 2/Hall', 'Day 2 B'].map((path) => ({ path, colour: '', note: '' })), clips: [] };
    expect(allBins(state).map((bin) => bin.path)).toEqual(['Day 2', 'Day 2/Hall', 'Day 2 B', 'Day 10']);
  });

  it('a bin that is dissolved does not swallow one of the same name', () => {
    const state: BinState = { bins: ['A', 'A/B', 'B'].map((path) => ({ path, colour: '', note: '' })), clips: [] };
    expect(() => dissolveBin(state, 'A')).toThrow('"B" stands there already');
  });
});
