/** Files on their way in from a browser: kept below the data folder until they are brought in, at most a day. */
import { randomUUID } from 'node:crypto';
import { createWriteStream, existsSync, mkdirSync } from 'node:fs';
import { readdir, rm, stat } from 'node:fs/promises';
import { join } from 'node:path';
import { pipeline } from 'node:stream/promises';
import { BodyPieces } from './body-pieces';
import { Problem } from '../errors/problem';

const HOUR_MS = 3_600_000;
const KEPT_MS = 24 * HOUR_MS;
/** Of all that wait to be brought in. */
export const MOST_WAITING_BYTES = 1024 ** 3;
/** Of a file that comes in. */
export const LARGEST_FILE_BYTES = 128 * 1024 * 1024;
const MOST_NAME_BYTES = 150;

export class Uploads {
  /** Bytes of those that are coming in. */
  private coming = 0;

  constructor(private readonly folder: string) {
    mkdirSync(folder, { recursive: true });
    setInterval(() => void this.tidy().catch(() => undefined), HOUR_MS).unref();
    void this.tidy().catch(() => undefined);
  }

  /** Bytes that wait, after those that nobody came for are gone. */
  private async tidy(): Promise<number> {
    let bytes = 0;
    for (const name of await readdir(this.folder)) {
      const path = join(this.folder, name);
      const info = await stat(path).catch(() => null);
      if (info && info.mtimeMs < Date.now() - KEPT_MS) await rm(path, { force: true });
      else bytes += info?.size ?? 0;
    }
    return bytes;
  }

  /** Writes the stream to a file as it comes; refuses it as soon as it grows too large. Gives its id. */
  async take(body: ReadableStream<Uint8Array>, name: string, mostBytes: number): Promise<string> {
    const id = randomUUID();
    const path = join(this.folder, `${id} ${encodedName(name)}`);
    let bytes = 0;
    const standing = (await this.tidy()) - this.coming;
    const pieces = new BodyPieces(body);
    const limited = async function* (this: Uploads, source: AsyncIterable<Uint8Array>) {
      for await (const piece of source) {
        bytes += piece.length;
        this.coming += piece.length;
        if (standing + this.coming > MOST_WAITING_BYTES)
          throw new Problem('no-room', 'Too many files wait to be brought in.', 'Bring them in, or try again tomorrow.');
        if (bytes > mostBytes) throw new Problem('too-large', `The file is larger than ${mostBytes} bytes.`);
        yield piece;
      }
    };
    try {
      await pipeline(pieces, limited.bind(this), createWriteStream(path, { flags: 'wx' }));
      if (bytes === 0) throw new Problem('empty-file', 'The file is empty.', 'Send the file as the body of the request.');
    } catch (error) {
      void pieces.discardRest();
      await rm(path, { force: true });
      throw error;
    } finally {
      this.coming -= bytes;
    }
    return id;
  }

  async file(id: string): Promise<{ path: string; name: string } | null> {
    const found = (await readdir(this.folder)).find((name) => name.startsWith(`${id} `));
    return found ? { path: join(this.folder, found), name: decodeURIComponent(found.slice(id.length + 1)) } : null;
  }

  async forget(id: string): Promise<void> {
    const found = await this.file(id);
    if (found) await rm(found.path, { force: true });
  }

  async checkSize(path: string, mostBytes: number): Promise<void> {
    const info = existsSync(path) ? await stat(path) : null;
    if (!info?.isFile()) throw new Problem('not-found', 'There is no such file.');
    if (info.size > mostBytes) throw new Problem('too-large', `The file is larger than ${mostBytes} bytes.`);
  }
}

/** The name goes along encoded: no part of it is a path. It ends before a file name is too long, with its ending. */
function encodedName(name: string): string {
  const plain = name.toWellFormed();
  const ending = /\.[A-Za-z0-9]{1,12}$/.exec(plain)?.[0] ?? '';
  let made = '';
  for (const sign of plain.slice(0, plain.length - ending.length)) {
    const next = made + encodeURIComponent(sign);
    if (next.length + ending.length > MOST_NAME_BYTES) break;
    made = next;
  }
  return made + ending || 'file';
}
