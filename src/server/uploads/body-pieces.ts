/** The body of a request piece by piece. One that is refused in its middle is read to its end all the same: who sends it hears the answer. */

/** Of a body that is refused so much more is read and thrown away; then the line is closed. */
const MOST_DISCARDED_BYTES = 1024 ** 3;
const LONGEST_MS = 60_000;

export class BodyPieces implements AsyncIterable<Uint8Array> {
  private readonly reader: ReadableStreamDefaultReader<Uint8Array>;
  private isOver = false;

  constructor(body: ReadableStream<Uint8Array>) {
    this.reader = body.getReader();
  }

  async *[Symbol.asyncIterator](): AsyncGenerator<Uint8Array> {
    for (;;) {
      const { done, value } = await this.reader.read();
      if (done) this.isOver = true;
      if (done) return;
      yield value;
    }
  }

  /** Never rejects; nobody need wait for it. */
  async discardRest(): Promise<void> {
    const until = Date.now() + LONGEST_MS;
    try {
      for (let bytes = 0; !this.isOver && bytes <= MOST_DISCARDED_BYTES && Date.now() < until;) {
        const { done, value } = await this.reader.read();
        if (done) return;
        bytes += value.length;
      }
      if (!this.isOver) await this.reader.cancel();
    } catch {
      // Whoever sent it is gone.
    }
  }
}
