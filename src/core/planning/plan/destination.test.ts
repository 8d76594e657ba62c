/** Where new files go: why nothing can, and what will be on each shelf. */
import { describe, expect, it } from 'vitest';
import { blockedBy, destinationProblem, hiddenProblem, shelfFills } from './destination';
import type { ShelfSnapshot } from './snapshot';
import { linkStep, type Step } from './step';

const shelf = (own: Partial<ShelfSnapshot> = {}): ShelfSnapshot => ({
  id: 'A',
  name: 'VAULT',
  attached: true,
  capacityBytes: 1000,
  freeBytes: 100,
  writable: true,
  disk: 'd',
  ...own,
});
const writes = (bytes: number, shelfId = 'A'): Step =>
  ({ action: 'write', phase: 0, from: null, to: { shelfId, path: 'x' }, expectedBytes: bytes, bytesExact: true, reason: '', mustHold: null, content: { type: 'text', text: '' } }); // prettier-ignore

describe('why nothing can be written there', () => {
  it.each([
    ['', shelf(), 1, 'no-destination'],
    ['gone', shelf(), 1, 'destination-gone'],
    ['A', shelf({ attached: false }), 1, 'destination-unplugged'],
    ['A', shelf({ writable: false }), 1, 'destination-read-only'],
    ['A', shelf(), 101, 'destination-full'],
    ['A', shelf(), 100, null],
    // A file system that does not tell its room: a write that finds none says so.
    ['A', shelf({ freeBytes: null }), 1e15, null],
  ])('%s', (id, own, needs, code) => expect(destinationProblem([own], id, needs, '')?.code ?? null).toBe(code));

  it('what is merely not chosen yet asks, what is wrong stops', () => {
    expect(blockedBy(destinationProblem([], '', 1, ''))[0]!.severity).toBe('asks');
    expect(blockedBy(destinationProblem([shelf()], 'A', 999, ', or less'))[0]).toMatchObject({
      severity: 'stops',
      hint: 'Choose another shelf, or less.',
    });
    expect(blockedBy(null)).toEqual([]);
  });

  it('a hidden folder is refused by its name, wherever it lies', () => {
    expect([hiddenProblem('Day 1/.cache/x')?.message.includes('".cache"'), hiddenProblem('Day 1/a.b')]).toEqual([true, null]);
  });
});

it('bytes add up by shelf; changes of the catalogue add none', () => {
  const steps = [writes(5), writes(7), writes(1, 'B'), linkStep(0, '', { type: 'x' }, { to: { shelfId: 'A', path: 'y' } })];
  expect(shelfFills(steps, [shelf(), shelf({ id: 'C' })])).toEqual([
    { shelfId: 'A', name: 'VAULT', capacityBytes: 1000, freeBytes: 100, addsBytes: 12 },
  ]);
});
