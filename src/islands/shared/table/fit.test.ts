import fc from 'fast-check';
import { expect, it } from 'vitest';
import { fitWidths, trackOf, type Fitted } from './fit';

const column = (least: number, need: number, grow = 1): Fitted => ({ least, name: 0, need, wish: need, grow });

it('gives room to what needs it, and what is left to those that grow', () => {
  expect(fitWidths([column(100, 300), column(100, 40)], 400)).toEqual([300, 100]);
  expect(fitWidths([column(100, 150), column(100, 100, 0)], 400)).toEqual([300, 100]);
  expect(fitWidths([column(50, 60), column(50, 2_000)], 300)).toEqual([60, 240]);
  expect(fitWidths([column(100, 300), column(100, 300)], 150)).toEqual([100, 100]);
  expect(fitWidths([{ ...column(40, 300), name: 120 }, column(40, 300)], 180)).toEqual([130, 50]);
  expect(fitWidths([{ least: 40, name: 0, need: 40, wish: 96, grow: 0 }, column(100, 200)], 280)).toEqual([80, 200]);
});

it('cuts nothing while another has more than it needs', () => {
  const columns = fc.array(fc.record({ least: fc.integer({ min: 20, max: 200 }), need: fc.integer({ min: 0, max: 900 }), name: fc.constant(0), wish: fc.constant(0), grow: fc.integer({ min: 0, max: 3 }) }), { minLength: 1, maxLength: 8 }); // prettier-ignore
  fc.assert(
    fc.property(columns, fc.integer({ min: 100, max: 2_500 }), (all, room) => {
      const widths = fitWidths(all, room);
      const sum = widths.reduce((total, width) => total + width, 0);
      const least = all.reduce((total, own) => total + own.least, 0);
      if (sum > Math.max(room, least) + 1) return false;
      if (all.some((own, index) => widths[index]! < own.least - 0.1)) return false;
      const isCut = all.some((own, index) => widths[index]! < own.need - 1);
      const isWide = all.some((own, index) => widths[index]! > Math.max(own.need, own.least) + 1);
      return !(isCut && isWide) && (!isCut || sum > Math.max(room, least) - 2);
    }),
  );
});

it('reads the tracks of columns', () => {
  expect(trackOf('96px')).toEqual({ least: 96, grow: 0 });
  expect(trackOf('minmax(92px, 1.25fr)')).toEqual({ least: 92, grow: 1.25 });
  expect(trackOf('1fr')).toEqual({ least: 60, grow: 1 });
});
