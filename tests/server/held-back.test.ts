/** Large answers to readers that take nothing: memory has an end, and nobody who reads is let go. */
import { EventEmitter } from 'node:events';
import type { ServerResponse } from 'node:http';
import { afterEach, expect, it, vi } from 'vitest';
import { answerTo, heldBack } from '../../src/server/api/held-back';

afterEach(() => vi.useRealTimers());

class Reader extends EventEmitter {
  writableNeedDrain = false;
  destroyed = false;
  destroy(): void {
    this.destroyed = true;
    this.emit('close');
  }
}
const large = 'bell '.repeat(6_000_000);
const open = (reader: Reader) => answerTo(reader as unknown as ServerResponse, () => heldBack(large)) as ReadableStream<Uint8Array>;

it('those that have taken nothing for long go first, and only where there is no room', async () => {
  vi.useFakeTimers({ toFake: ['Date'] });
  const [first, second, third, fourth] = [new Reader(), new Reader(), new Reader(), new Reader()];
  open(first);
  const reading = open(second).getReader();
  vi.setSystemTime(Date.now() + 3_000);
  expect((await reading.read()).value).toHaveLength(64 * 1024);
  open(third);
  expect([first.destroyed, second.destroyed]).toEqual([true, false]);
  open(fourth);
  // The second has just read, the third has just come.
  expect([second.destroyed, third.destroyed, fourth.destroyed]).toEqual([false, false, false]);
  let bytes = 64 * 1024;
  for (let piece = await reading.read(); !piece.done; piece = await reading.read()) bytes += piece.value.length;
  expect(bytes).toBe(large.length);
});

it('an answer whose reader goes ends', async () => {
  const reader = new Reader();
  const reading = open(reader).getReader();
  await reading.read();
  reader.destroy();
  await reading.read();
  expect((await reading.read()).done).toBe(true);
});
