/** A run in progress: orders to its workers, and how far and how fast it is. Nothing here outlives the process. */
import { statSync } from 'node:fs';
import type { StocktakeFigures } from '../../core/planning/stocktake/stocktake';
import type { Places } from '../stock/mounts';
import { newControl, order, progressOf, type SharedControl } from '../threads/control';
import { StepFailure } from '../errors/explain-error';
import { PinnedPlaces } from './pinned-places';
import type { RunPriority } from '../catalogue/runs';
import type { Seat } from './seat';

const SPEED_WINDOW_MS = 5_000;
export const DOES_NOT_ANSWER = 'The drive does not answer any more. Look at it, plug it in anew, then resume the run.';

interface LiveStep {
  readonly control: SharedControl;
  readonly abort: AbortController;
  readonly expectedBytes: number;
  readonly name: string;
  readonly seat: Seat;
  watched: string | null;
  figures: StocktakeFigures | null;
  readonly shelves: readonly string[];
  /** Rejects when its drive does not answer any more: whatever waits for it may wait for ever. */
  readonly lost: Promise<never>;
  readonly lose: () => void;
  over: boolean;
}

/** How a run stands that goes on: bytes and bytes a second as its plan expects them; the run that has what it waits for. */
export interface RunProgress {
  readonly bytes: number;
  readonly speed: number | null;
  readonly current: string[];
  readonly paused: boolean;
  readonly trouble: string | null;
  readonly waitsFor: number | null;
  /** Bytes that were done when this process took it up, and seconds that it worked since, pauses left out. */
  readonly bytesBefore: number;
  readonly worked: number;
  /** Of a stocktake that is in hand. */
  readonly figures: StocktakeFigures | null;
}

export class LiveRun {
  private readonly steps = new Map<number, LiveStep>();
  private samples: { atMs: number; bytes: number }[] = [];
  private gate: { promise: Promise<void>; open: () => void } | null = null;
  doneBytes = 0;
  private bytesBefore = 0;
  private worked = 0;
  private since: number | null = null;
  priority: RunPriority = 'normal';
  stopping: 'cancel' | 'shutdown' | null = null;
  /** What the run waits for that nobody asked it to; it goes on by itself. */
  trouble: string | null = null;
  /** Whether what it does was asked for again since its step began; null: its step looks no more. */
  private again: boolean | null = null;
  readonly places: PinnedPlaces;

  constructor(
    readonly id: number,
    places: Places,
  ) {
    this.places = new PinnedPlaces(places);
  }

  /** Bytes that earlier processes have done: the speed is measured without them. */
  takenUp(doneBytes: number): void {
    this.doneBytes = doneBytes;
    this.bytesBefore = doneBytes;
  }

  /** Counts working time: while a step is in hand and the run is not paused. Waiting for another run does not count. */
  private count(): void {
    if (this.since !== null) this.worked += (Date.now() - this.since) / 1000;
    this.since = this.steps.size > 0 && !this.paused ? Date.now() : null;
  }

  begin(ordinal: number, name: string, expectedBytes: number, seat: Seat, shelves: readonly string[] = []): LiveStep {
    let lose = () => {};
    const lost = new Promise<never>((_, fail) => (lose = () => fail(new StepFailure(DOES_NOT_ANSWER))));
    lost.catch(() => undefined);
    const step: LiveStep = {
      control: newControl(),
      abort: new AbortController(),
      expectedBytes,
      name,
      seat,
      watched: null,
      figures: null,
      shelves,
      lost,
      lose,
      over: false,
    };
    if (this.paused) order(step.control, 'wait');
    if (this.stopping) {
      order(step.control, 'stop');
      step.abort.abort();
    }
    this.steps.set(ordinal, step);
    this.again = false;
    this.count();
    return step;
  }

  end(ordinal: number, doneBytes: number): void {
    const step = this.steps.get(ordinal);
    if (step) {
      step.over = true;
      step.seat.give();
    }
    this.steps.delete(ordinal);
    this.count();
    this.doneBytes += doneBytes;
  }

  /** Gives up the steps in hand on shelves of which it holds: they are told to stop, should they ever hear it. */
  giveUp(isSilent: (shelfId: string) => boolean): void {
    for (const step of this.steps.values()) {
      if (!step.shelves.some(isSilent)) continue;
      order(step.control, 'stop');
      step.abort.abort();
      step.lose();
    }
  }

  /** What it does is asked for again. False where it is too late for it to see what changed: another run must look. */
  askAgain(): boolean {
    if (this.again === null || this.stopping) return false;
    this.again = true;
    return true;
  }

  /** Whether it was asked for again since the last look; where not, this was the last look. */
  wasAskedAgain(): boolean {
    const was = this.again === true;
    this.again = was ? false : null;
    return was;
  }

  report(ordinal: number, figures: StocktakeFigures): void {
    const step = this.steps.get(ordinal);
    if (step) step.figures = figures;
  }

  pause(): void {
    if (this.gate) return;
    let open = () => {};
    const promise = new Promise<void>((resolve) => (open = resolve));
    this.gate = { promise, open };
    this.count();
    // Others may use the shelf meanwhile: the step keeps its half-made file, not its turn.
    for (const step of this.steps.values()) {
      order(step.control, 'wait');
      step.seat.give();
    }
  }

  resume(): void {
    this.gate?.open();
    this.gate = null;
    this.samples = [];
    this.count();
    for (const step of this.steps.values()) void this.goOn(step);
  }

  /** Waits for the step's turn again, then lets it go on; unless it ended or the run was paused again meanwhile. */
  private async goOn(step: LiveStep): Promise<void> {
    if (this.stopping) return;
    await step.seat.take(this.priority);
    if (step.over || this.paused) step.seat.give();
    else order(step.control, 'go');
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

  /** How it stands; `waitsFor`: the run that has what this one waits for. */
  progress(waitsFor: number | null): RunProgress {
    const { paused, trouble, bytesBefore } = this;
    const worked = this.worked + (this.since === null ? 0 : (Date.now() - this.since) / 1000);
    return {
      bytes: this.bytesNow(),
      speed: this.speed(Date.now()),
      current: this.current(),
      paused,
      trouble,
      waitsFor: paused ? null : waitsFor,
      bytesBefore,
      worked,
      figures: [...this.steps.values()].find((step) => step.figures !== null)?.figures ?? null,
    };
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
