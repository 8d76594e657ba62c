/** A large answer goes out as its reader takes it: what a slow one leaves does not pile up in memory. */
import { AsyncLocalStorage } from 'node:async_hooks';
import type { FileHandle } from 'node:fs/promises';
import type { ServerResponse } from 'node:http';

const PIECE_LENGTH = 64 * 1024;
/** Shorter ones go out at once. */
const SMALL_LENGTH = 256 * 1024;
/** Of all that is held for readers together; beyond it those go that take nothing, the longest first. */
const MOST_HELD = 64 * 1024 * 1024;
/** A reader that has taken nothing for so long may be one that never will. */
const STALLED_MS = 2_000;

interface Held {
  readonly response: ServerResponse;
  /** Letters of the whole answer. */
  readonly length: number;
  takenAt: number;
}
const held = new Set<Held>();

/** Room for another answer: nobody who reads is let go. */
function makeRoomFor(length: number): void {
  const stalled = [...held].filter(({ takenAt }) => Date.now() - takenAt > STALLED_MS).sort((a, b) => a.takenAt - b.takenAt);
  for (const next of stalled) {
    if ([...held].reduce((sum, own) => sum + own.length, length) <= MOST_HELD) return;
    held.delete(next);
    next.response.destroy();
  }
}

/** Known by a registered symbol: the pages are bundled apart from the entry. */
const ANSWERING = Symbol.for('mill-shelf.answering');
const global = globalThis as { [ANSWERING]?: AsyncLocalStorage<ServerResponse> };
const answering = (global[ANSWERING] ??= new AsyncLocalStorage<ServerResponse>());

/** Runs what answers a request, so that heldBack finds whom it is for. */
export function answerTo<T>(response: ServerResponse, work: () => T): T {
  return answering.run(response, work);
}

/** Address of whoever asks, as the connection has it: what a request says of itself is anybody's word. Empty where nobody asks. */
export function readerAddress(): string {
  return answering.getStore()?.req?.socket?.remoteAddress ?? '';
}

/** The text as the body of a response; in pieces, each when the one before has gone out, where it is large. */
export function heldBack(text: string): string | ReadableStream<Uint8Array> {
  const response = answering.getStore();
  if (!response || text.length < SMALL_LENGTH) return text;
  const encoder = new TextEncoder();
  makeRoomFor(text.length);
  const own: Held = { response, length: text.length, takenAt: Date.now() };
  held.add(own);
  response.once('close', () => held.delete(own));
  let at = 0;
  return new ReadableStream<Uint8Array>(
    {
      async pull(controller) {
        await taken(response);
        own.takenAt = Date.now();
        // A reader that has gone is sent nothing more.
        const end = response.destroyed ? text.length : at + PIECE_LENGTH;
        // The two halves of a sign stay together.
        const next = /[\uD800-\uDBFF]/.test(text[end - 1] ?? '') ? end + 1 : end;
        if (!response.destroyed) controller.enqueue(encoder.encode(text.slice(at, next)));
        at = next;
        if (at >= text.length) controller.close();
      },
    },
    { highWaterMark: 0 },
  );
}

/** Waits until the reader has taken what was written, or has gone. */
function taken(response: ServerResponse): Promise<void> {
  if (!response.writableNeedDrain || response.destroyed) return Promise.resolve();
  return new Promise((done) => {
    const over = () => {
      response.off('drain', over).off('close', over);
      done();
    };
    response.on('drain', over).on('close', over);
  });
}

/** Bytes of an open file from `start` to `end`, both inclusive, each piece when the one before has gone out. The file is closed in any case. */
export function heldBackFile(file: FileHandle, start: number, end: number): ReadableStream<Uint8Array> {
  const response = answering.getStore();
  let at = start;
  const close = () => file.close().catch(() => undefined);
  return new ReadableStream<Uint8Array>(
    {
      async pull(controller) {
        if (response) await taken(response);
        const { bytesRead, buffer } = await file.read(Buffer.alloc(Math.min(4 * PIECE_LENGTH, end - at + 1)), 0, undefined, at).catch(async (error: unknown) => (await close(), Promise.reject(error as Error))); // prettier-ignore
        at += bytesRead;
        if (bytesRead > 0) controller.enqueue(new Uint8Array(buffer.buffer, buffer.byteOffset, bytesRead));
        if (bytesRead > 0 && at <= end && !response?.destroyed) return;
        await close();
        // A file that became shorter meanwhile does not end as if it were whole.
        if (at <= end && !response?.destroyed) controller.error(new Error('The file became shorter while it was sent.'));
        else controller.close();
      },
      cancel: close,
    },
    { highWaterMark: 0 },
  );
}
