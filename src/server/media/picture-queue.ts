/**
 * Poster frames and previews in their turn: few at a time, the newest wanted first, one making for all who want the same, and none
 * for nobody. What could not be made is not tried again until its file is another.
 */
import { Problem } from '../errors/problem';

/** One picture that is wanted or being made. */
interface Wanted<T> {
  readonly key: string;
  readonly make: (signal: AbortSignal) => Promise<T | null>;
  readonly abort: AbortController;
  readonly promise: Promise<T | null>;
  readonly answer: { readonly done: (picture: T | null) => void; readonly fail: (error: unknown) => void };
  waiters: number;
}

const MOST_FAILURES = 10_000;

export class PictureQueue<T = Buffer> {
  private readonly wanted = new Map<string, Wanted<T>>();
  /** Not begun yet; the last one is the next. */
  private readonly waiting: Wanted<T>[] = [];
  private readonly failed = new Set<string>();
  private making = 0;

  constructor(
    private readonly atOnce: number,
    private readonly mostWaiting: number,
  ) {}

  /**
   * The picture under `key`, made by `make` unless it is being made already; null where there is none. Rejects with
   * TooManyPictures when others are wanted more, and with what `make` throws. `signal`: this one does not wait any more.
   */
  async get(key: string, make: Wanted<T>['make'], signal?: AbortSignal): Promise<T | null> {
    if (this.failed.has(key)) return null;
    // Given up for want of anybody; it must be over before it begins anew.
    for (let old = this.wanted.get(key); old?.abort.signal.aborted; old = this.wanted.get(key)) await old.promise.catch(() => null);
    const wanted = this.wanted.get(key) ?? this.enter(key, make);
    wanted.waiters++;
    const leave = () => {
      wanted.waiters--;
      if (wanted.waiters === 0) this.drop(wanted);
    };
    signal?.addEventListener('abort', leave, { once: true });
    if (signal?.aborted) leave();
    this.next();
    try {
      return await wanted.promise;
    } finally {
      signal?.removeEventListener('abort', leave);
    }
  }

  private enter(key: string, make: Wanted<T>['make']): Wanted<T> {
    let answer!: Wanted<T>['answer'];
    const promise = new Promise<T | null>((done, fail) => (answer = { done, fail }));
    const wanted: Wanted<T> = { key, make, abort: new AbortController(), promise, answer, waiters: 0 };
    this.wanted.set(key, wanted);
    this.waiting.push(wanted);
    if (this.waiting.length > this.mostWaiting) this.drop(this.waiting[0]!);
    return wanted;
  }

  private drop(wanted: Wanted<T>): void {
    const at = this.waiting.indexOf(wanted);
    if (at >= 0) {
      this.waiting.splice(at, 1);
      this.wanted.delete(wanted.key);
      wanted.answer.fail(new TooManyPictures());
    } else {
      wanted.abort.abort();
    }
  }

  private next(): void {
    while (this.making < this.atOnce) {
      const wanted = this.waiting.pop();
      if (!wanted) return;
      this.making++;
      void this.make(wanted);
    }
  }

  private async make(wanted: Wanted<T>): Promise<void> {
    try {
      const picture = await wanted.make(wanted.abort.signal);
      // Of what was given up half-way nothing is known.
      if (picture === null && !wanted.abort.signal.aborted) this.remember(wanted.key);
      wanted.answer.done(picture);
    } catch (error) {
      wanted.answer.fail(error);
    } finally {
      this.wanted.delete(wanted.key);
      this.making--;
      this.next();
    }
  }

  private remember(key: string): void {
    if (this.failed.size >= MOST_FAILURES) this.failed.clear();
    this.failed.add(key);
  }
}

/** Others were wanted more, or nobody waits any more. */
export class TooManyPictures extends Problem {
  constructor() {
    super('busy-pictures', 'More pictures are asked for than can be made.', 'Ask again in a moment.');
  }
}
