/** Files on their way in from a browser: kept below the data folder until they are brought in, at most a day. */
import { randomUUID } from 'node:crypto';
import { createWriteStream, existsSync, mkdirSync, readdirSync, rmSync, statSync } from 'node:fs';
import { readdir, rm, stat } from 'node:fs/promises';
import { join } from 'node:path';
import { Readable } from 'node:stream';
import { pipeline } from 'node:stream/promises';
import { Problem } from './api/problem';

const KEPT_MS = 24 * 3600 * 1000;

export class Uploads {
  constructor(private readonly folder: string) {
    mkdirSync(folder, { recursive: true });
    for (const name of readdirSync(folder)) {
      const path = join(folder, name);
      if (statSync(path).mtimeMs < Date.now() - KEPT_MS) rmSync(path, { force: true });
    }
  }

  /** Writes the stream to a file as it comes; refuses it as soon as it grows too large. Gives its id. */
  async take(body: ReadableStream<Uint8Array>, name: string, mostBytes: number): Promise<string> {
    const id = randomUUID();
    // The name goes along encoded: no part of it is a path.
    const path = join(this.folder, `${id} ${encodeURIComponent(name.slice(0, 60).toWellFormed())}`);
    let bytes = 0;
    const limited = async function* (source: AsyncIterable<Uint8Array>) {
      for await (const piece of source) {
        bytes += piece.length;
        if (bytes > mostBytes) throw new Problem(413, 'too-large', `The file is larger than ${mostBytes} bytes.`);
        yield piece;
      }
    };
    try {
      await pipeline(Readable.fromWeb(body as never), limited, createWriteStream(path, { flags: 'wx' }));
      if (bytes === 0) throw new Problem(400, 'empty-file', 'The file is empty.', 'Send the file as the body of the request.');
    } catch (error) {
      await rm(path, { force: true });
      throw error;
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
    if (!info?.isFile()) throw new Problem(404, 'not-found', 'There is no such file.');
    if (info.size > mostBytes) throw new Problem(413, 'too-large', `The file is larger than ${mostBytes} bytes.`);
  }
}
