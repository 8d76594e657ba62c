/** In a worker: which folder is being touched just now, told in shared memory before it may hold the thread for ever. */

const LENGTH = 0;
const TEXT_AT = 4;
const MOST_BYTES = 4096;

export function newTouch(): SharedArrayBuffer {
  return new SharedArrayBuffer(TEXT_AT + MOST_BYTES);
}

let touch: SharedArrayBuffer | null = null;

/** What the present work tells in; null where nobody looks. */
export function tellTouchesIn(buffer: SharedArrayBuffer | null): void {
  touch = buffer;
}

/** Does what may never come back. */
export function touching<T>(folder: string, work: () => T): T {
  if (touch === null) return work();
  // Shared memory takes no text by itself.
  const bytes = Buffer.from(folder).subarray(0, MOST_BYTES);
  new Uint8Array(touch, TEXT_AT).set(bytes);
  const length = new Int32Array(touch, 0, 1);
  Atomics.store(length, LENGTH, bytes.length);
  try {
    return work();
  } finally {
    Atomics.store(length, LENGTH, 0);
  }
}

/** Whoever looks from outside: the folder that is being touched; null between two. */
export function touchedNow(buffer: SharedArrayBuffer): string | null {
  const length = Atomics.load(new Int32Array(buffer, 0, 1), LENGTH);
  return length > 0 ? Buffer.from(new Uint8Array(buffer, TEXT_AT).slice(0, length)).toString() : null;
}
