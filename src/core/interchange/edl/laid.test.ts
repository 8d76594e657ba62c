import fc from 'fast-check';
import { expect, it } from 'vitest';
import type { Transition } from '../../project/timeline';
import { flatten, type LaidAfter } from './laid';

const dissolve = { type: 'transition', name: 'dissolve' } as unknown as Transition;

/** A track of pieces one behind the other, some of them nothing, some with a transition before them. */
const track = (name: string) =>
  fc
    .array(fc.record({ length: fc.integer({ min: 1, max: 6 }), isGap: fc.boolean(), isDissolve: fc.boolean(), head: fc.nat(3) }), { maxLength: 6 })
    .map((parts) => {
      let at = 0;
      return parts.map(({ length, isGap, isDissolve, head }, index): LaidAfter => {
        const [start, end] = [at, (at += length)];
        return { piece: { start, end, headFrames: head, event: null, stand: isGap ? '' : `${name}${index}` }, before: isDissolve ? dissolve : null };
      });
    });

/** What is seen at each frame: which event, and which of its frames. */
function seen(laid: readonly LaidAfter[]): Map<number, string> {
  const out = new Map<number, string>();
  for (const { piece } of laid)
    if (piece.stand !== '') for (let at = piece.start; at < piece.end; at++) out.set(at, `${piece.stand} ${at - piece.start + piece.headFrames}`);
  return out;
}

it('of every moment the topmost picture, and its very frame; what is covered or cut is told', () => {
  fc.assert(
    fc.property(fc.tuple(track('a'), track('b'), track('c')), (tracks) => {
      const { laid, covered, lostTransitions } = flatten(tracks);
      const expected = new Map(tracks.flatMap((own) => [...seen(own)]));
      expect([...seen(laid)].sort()).toEqual([...expected].sort());
      // On one track: nothing overlaps, all in order.
      laid.forEach(({ piece, before }, index) => {
        expect(piece.start).toBeGreaterThanOrEqual(laid[index - 1]?.piece.end ?? 0);
        // What a transition leads out of is what lies right before it.
        if (before && piece.stand !== '') expect(laid[index - 1]?.piece.end).toBe(piece.start);
      });
      const named = (entries: readonly { readonly stand: string }[]) => new Set(entries.map(({ stand }) => stand).filter((stand) => stand !== ''));
      const all = named(tracks.flat().map(({ piece }) => piece));
      expect(new Set([...named(laid.map(({ piece }) => piece)), ...named(covered)])).toEqual(all);
      const kept = laid.filter(({ before, piece }) => before && piece.stand !== '').length;
      const were = tracks.flat().filter(({ before, piece }) => before && piece.stand !== '').length;
      expect(kept + lostTransitions.length).toBeGreaterThanOrEqual(were);
    }),
  );
});
