/** Words shared with a worker: the order to stop or wait, and how far it is. Lives in shared memory. */

export interface SharedControl {
  readonly buffer: SharedArrayBuffer;
}

const ORDER = 0;
const GO = 0;
const WAIT = 1;
const STOP = 2;

export function newControl(): SharedControl {
  return { buffer: new SharedArrayBuffer(16) };
}

export function order(control: SharedControl, what: 'go' | 'wait' | 'stop'): void {
  const word = new Int32Array(control.buffer, 0, 2);
  // A stop is never taken back.
  if (Atomics.load(word, ORDER) === STOP) return;
  Atomics.store(word, ORDER, { go: GO, wait: WAIT, stop: STOP }[what]);
  Atomics.notify(word, ORDER);
}

/** In the worker: whether it is told to wait just now. */
export function mustWait(control: SharedControl): boolean {
  return Atomics.load(new Int32Array(control.buffer, 0, 2), ORDER) === WAIT;
}

/** In the worker: waits while told to, true when told to stop. */
export function mustStop(control: SharedControl): boolean {
  const word = new Int32Array(control.buffer, 0, 2);
  while (Atomics.load(word, ORDER) === WAIT) Atomics.wait(word, ORDER, WAIT, 1_000);
  return Atomics.load(word, ORDER) === STOP;
}

export function setProgress(control: SharedControl, bytes: number): void {
  Atomics.store(new BigInt64Array(control.buffer, 8, 1), 0, BigInt(bytes));
}

export function progressOf(control: SharedControl): number {
  return Number(Atomics.load(new BigInt64Array(control.buffer, 8, 1), 0));
}
