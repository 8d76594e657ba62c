/** A run in progress: orders to its workers, and how far and how fast it is. Nothing here outlives the process. */
import { statSync } from 'node:fs';
import { newControl, order, progressOf, type SharedControl } from '../workers/control';

const SPEED_WINDOW_MS = 5_000;

interface LiveStep {
  readonly control: SharedControl;
  readonly abort: AbortController;
  readonly expectedBytes: number;
  readonly name: string;
  watched: string | null;
}

export class LiveRun {
  private readonly steps = new Map<number, LiveStep>();
  private samples: { atMs: number; bytes: number }[] = [];
  private gate: { promise: Promise<void>; open: () => void } | null = null;
  doneBytes = 0;
  stopping: 'cancel' | 'shutdown' | null = null;

  constructor(readonly id: number) {}

  begin(ordinal: number, name: string, expectedBytes: number): LiveStep {
    const step: LiveStep = { control: newControl(), abort: new AbortController(), expectedBytes, name, watched: null };
    if (this.stopping) {
      order(step.control, 'stop');
      step.abort.abort();
    }
    this.steps.set(ordinal, step);
    return step;
  }

  end(ordinal: number, doneBytes: number): void {
    this.steps.delete(ordinal);
    this.doneBytes += doneBytes;
  }

  pause(): void {
    if (this.gate) return;
    let open = () => {};
    const promise = new Promise<void>((resolve) => (open = resolve));
    this.gate = { promise, open };
    for (const step of this.steps.values()) order(step.control, 'wait');
  }

  resume(): void {
    this.gate?.open();
    this.gate = null;
    this.samples = [];
    for (const step of this.steps.values()) order(step.control, 'go');
  }

  get paused(): boolean {
    return this.gate !== null;
  }

  /** Resolves at once unless paused. */
  async whenOpen(): Promise<void> {
    while (this.gate) await this.gate.promise;
  }

  stop(why: 'cancel' | 'shutdown'): void {
    this.stopping = why;
    for (const step of this.steps.values()) {
      order(step.control, 'stop');
      step.abort.abort();
    }
    this.resume();
  }

  /** Names of the files in hand. */
  current(): string[] {
    return [...this.steps.values()].map((step) => step.name);
  }

  /** Bytes done, with a share of the steps in hand: a copy is half done when it is written and not yet read back. */
  bytesNow(): number {
    let bytes = this.doneBytes;
    for (const step of this.steps.values()) {
      const moved = step.watched ? sizeOf(step.watched) : progressOf(step.control);
      bytes += Math.min(step.expectedBytes, moved / 2);
    }
    return Math.round(bytes);
  }

  /** Bytes a second over the last seconds; null before there is anything to go by. */
  speed(nowMs: number): number | null {
    const bytes = this.bytesNow();
    this.samples.push({ atMs: nowMs, bytes });
    this.samples = this.samples.filter((sample) => nowMs - sample.atMs <= SPEED_WINDOW_MS);
    const first = this.samples[0]!;
    return nowMs - first.atMs < 500 ? null : Math.max(0, ((bytes - first.bytes) * 1000) / (nowMs - first.atMs));
  }
}

function sizeOf(path: string): number {
  try {
    return statSync(path).size;
  } catch {
    return 0;
  }
}
