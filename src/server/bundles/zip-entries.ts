/** Reading a ZIP file entry by entry. Names that lead out of a folder are refused by the reader itself. */
import type { Readable } from 'node:stream';
import { JsonGauge } from '../../core/interchange/json-gauge';
import yauzl, { type Entry, type ZipFile } from 'yauzl';
import { Problem } from '../errors/problem';

/** What is wrong with a bundle, in a sentence. */
export class BundleError extends Problem {
  constructor(detail: string) {
    super('bundle', detail, 'Choose an .otioz file that opens elsewhere, or have it made again.');
  }
}

const MOST_ENTRIES = 1_000_000;

export interface ZipEntryFacts {
  readonly path: string;
  readonly bytes: number;
  /** Bytes it takes in the ZIP. */
  readonly packedBytes: number;
}

function openZip(path: string): Promise<ZipFile> {
  return new Promise((done, fail) =>
    yauzl.open(path, { lazyEntries: true, autoClose: false }, (error, zip) => (error ? fail(asBundleError(error)) : done(zip))),
  );
}

function asBundleError(error: Error): Error {
  const { code } = error as NodeJS.ErrnoException;
  // What the disk says of itself has a code; what the unpacking says has none, or one of its own.
  return code === undefined || code.startsWith('Z_') ? new BundleError(`It is no ZIP file that can be read: ${error.message}.`) : error;
}

/** Calls `visit` for every entry until it returns true. */
async function eachEntry(zip: ZipFile, visit: (entry: Entry) => boolean): Promise<void> {
  let seen = 0;
  await new Promise<void>((done, fail) => {
    zip.on('error', (error: Error) => fail(asBundleError(error)));
    zip.on('end', done);
    zip.on('entry', (entry: Entry) => {
      if (++seen > MOST_ENTRIES) return fail(new BundleError(`It holds more than ${MOST_ENTRIES} files.`));
      if (visit(entry)) done();
      else zip.readEntry();
    });
    zip.readEntry();
  });
}

export async function listEntries(path: string): Promise<ZipEntryFacts[]> {
  const zip = await openZip(path);
  try {
    const entries: ZipEntryFacts[] = [];
    await eachEntry(zip, (entry) => {
      entries.push({ path: entry.fileName, bytes: entry.uncompressedSize, packedBytes: entry.compressedSize });
      return false;
    });
    return entries;
  } finally {
    zip.close();
  }
}

/** A stream of one entry. Rejects with BundleError when it is not there; the file closes with the stream. */
export async function openEntry(path: string, name: string): Promise<{ stream: Readable; crc32: number; bytes: number }> {
  const zip = await openZip(path);
  try {
    const found: { entry: Entry | null } = { entry: null };
    await eachEntry(zip, (entry) => {
      if (entry.fileName === name) found.entry = entry;
      return found.entry !== null;
    });
    const { entry } = found;
    if (!entry) throw new BundleError(`"${name}" is not in the bundle any more.`);
    const stream = await new Promise<Readable>((done, fail) =>
      zip.openReadStream(entry, (error, opened) => (error ? fail(asBundleError(error)) : done(opened))),
    );
    stream.on('close', () => zip.close());
    return { stream, crc32: entry.crc32, bytes: entry.uncompressedSize };
  } catch (error) {
    zip.close();
    throw error;
  }
}

/** JSON is packed to a hundredth at the utmost; what unfolds to far more is no text. */
const MOST_UNFOLDED = 250;
const ALWAYS_READ_BYTES = 16 * 1024 * 1024;

/** Text of an entry that is JSON; null when it is not there. Rejects with BundleError for one above `mostBytes`, or that unfolds without end. */
export async function readEntryText(path: string, name: string, mostBytes: number, mostDepth: number): Promise<string | null> {
  const facts = (await listEntries(path)).find((entry) => entry.path === name);
  if (!facts) return null;
  if (facts.bytes > mostBytes) throw new BundleError(`${name} in the bundle is larger than ${mostBytes} bytes.`);
  if (facts.bytes > ALWAYS_READ_BYTES && facts.bytes > facts.packedBytes * MOST_UNFOLDED)
    throw new BundleError(`${name} in the bundle would unfold to ${Math.round(facts.bytes / facts.packedBytes)} times its size: it is no timeline.`);
  const { stream } = await openEntry(path, name);
  const pieces: Buffer[] = [];
  const gauge = new JsonGauge(mostDepth);
  try {
    for await (const piece of stream) {
      if (gauge.isTooDeepAfter(piece as Buffer)) throw new BundleError(`${name} in the bundle is nested more than ${mostDepth} levels deep.`);
      pieces.push(piece as Buffer);
    }
  } catch (error) {
    stream.destroy();
    throw error instanceof BundleError ? error : asBundleError(error as Error);
  }
  return Buffer.concat(pieces).toString('utf8');
}
