import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { clipState, isOffline, renditionRead, sourceState, type KnownClip, type KnownItem, type Stock } from '../project/clip';
import { kindsRead, marksOfOrder, READ_AT_FIRST, readOrderForm, RENDITION_KINDS, STOP_LINE, type ReadOrder, type RenditionKind } from './read-order';

const orders: fc.Arbitrary<ReadOrder> = fc.record({
  kinds: fc.shuffledSubarray([...RENDITION_KINDS], { minLength: RENDITION_KINDS.length }),
  stop: fc.integer({ min: 1, max: RENDITION_KINDS.length }),
});
const kindOf = fc.constantFrom(...RENDITION_KINDS);

interface House {
  readonly renditions: readonly { readonly kind: RenditionKind; readonly there: boolean; readonly id: number }[];
  readonly media: 'video' | 'audio' | 'still';
}
const houses: fc.Arbitrary<House> = fc.record({
  renditions: fc.array(fc.record({ kind: kindOf, there: fc.boolean(), id: fc.nat() }), { minLength: 1, maxLength: 5 }),
  media: fc.constantFrom('video' as const, 'audio' as const, 'still' as const),
});

function build({ renditions, media }: House, readOrder: ReadOrder): { clip: KnownClip; stock: Stock } {
  const item: KnownItem = { sizeBytes: 1, fingerprint: 'p', facts: { kind: media, audio: { length: 0 } } };
  const there = new Map(renditions.map((own, index) => [`f${index}`, own.there]));
  return {
    clip: {
      setAside: false,
      renditions: renditions.map(({ kind }, index) => ({ kind, links: [{ place: { shelfId: 's', path: `f${index}` }, expected: { fingerprint: 'p', sizeBytes: 1, kind: media } }] })), // prettier-ignore
    },
    stock: { readOrder, isAttached: () => true, itemAt: ({ path }) => (there.get(path) ? item : null) },
  };
}

/** Which kinds of rendition stand there, a source of sound or a still standing for a light copy as well: by counting, kind for kind. */
function slowlyRead(house: House, order: ReadOrder): RenditionKind | null {
  const standing = (kind: RenditionKind) => house.renditions.some((own) => own.there && own.kind === kind);
  for (const [index, kind] of order.kinds.entries()) {
    if (index >= order.stop) return null;
    if (standing(kind)) return kind;
    // The first source is the one that would stand in.
    const first = house.renditions.filter((own) => own.kind === 'source');
    if (kind === 'proxy' && house.media !== 'video' && first[0]?.there) return 'source';
  }
  return null;
}

describe('read order', () => {
  it('reads the first kind before the line that is there, and calls offline what has none', () => {
    fc.assert(
      fc.property(houses, orders, (house, order) => {
        const { clip, stock } = build(house, order);
        const expected = slowlyRead(house, order);
        expect(renditionRead(clip, stock)?.kind ?? null).toBe(expected);
        const state = clipState(clip, stock);
        expect(isOffline(state)).toBe(expected === null);
        if (expected !== null) expect(state).toBe(expected === 'proxy' ? 'by-proxy' : 'present');
        // Never called missing while a file of it stands there.
        else expect(state).toBe(house.renditions.some(({ there }) => there) ? 'not-read' : 'missing');
      }),
    );
  });

  it('tells of the source what is so, whatever is read', () => {
    fc.assert(
      fc.property(houses, orders, (house, order) => {
        const { clip, stock } = build(house, order);
        const source = house.renditions.find(({ kind }) => kind === 'source') ?? house.renditions[0]!;
        expect(sourceState(clip, stock)).toBe(source.there ? 'present' : 'missing');
      }),
    );
  });

  it('the line moved back never turns a clip offline that was read', () => {
    fc.assert(
      fc.property(houses, orders, (house, order) => {
        const later = build(house, { ...order, stop: RENDITION_KINDS.length });
        const now = build(house, order);
        if (!isOffline(clipState(now.clip, now.stock))) expect(isOffline(clipState(later.clip, later.stock))).toBe(false);
      }),
    );
  });

  it('stands as marks with one line, and is refused where a kind lacks, comes twice, or nothing is read', () => {
    expect(marksOfOrder({ ...READ_AT_FIRST, stop: 2 })).toEqual(['finished', 'source', STOP_LINE, 'mezzanine', 'proxy']);
    expect(kindsRead({ ...READ_AT_FIRST, stop: 2 })).toEqual(['finished', 'source']);
    const bad = [{ kinds: ['source'], stop: 1 }, { kinds: ['source', 'source', 'proxy', 'finished'], stop: 1 }, { ...READ_AT_FIRST, stop: 0 }, { ...READ_AT_FIRST, stop: 5 }]; // prettier-ignore
    for (const order of bad) expect(readOrderForm.validate(order).error, JSON.stringify(order)).toBeDefined();
    expect(readOrderForm.validate(READ_AT_FIRST).error).toBeUndefined();
  });
});
