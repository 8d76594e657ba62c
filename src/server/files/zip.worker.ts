/** Packing files into a ZIP and taking one out of it, hashed on the way and flushed. */
import { createHash } from 'node:crypto';
import { closeSync, createReadStream, createWriteStream, openSync } from 'node:fs';
import { open } from 'node:fs/promises';
import { pipeline } from 'node:stream/promises';
import { crc32 } from 'node:zlib';
import yazl from 'yazl';
import { isUntouched, type FileIdentity } from '../../core/media/identity';
import { identify, identityOfHandle } from '../stock/identify';
import { openEntry } from '../bundles/zip-entries';
import { unpacked, type PackedText } from '../catalogue/run-texts';
import { mustStop, setProgress, type SharedControl } from '../threads/control';

export type ZipJob =
  | { readonly pack: readonly PackedEntry[]; readonly target: string; readonly control: SharedControl }
  | { readonly unpack: { readonly source: string; readonly entry: string }; readonly target: string; readonly control: SharedControl };

export type PackedEntry =
  | ({ readonly path: string } & PackedText)
  /** A file as it was looked at: the ZIP is thrown away when it is another, or changes. */
  | { readonly path: string; readonly file: string; readonly mustBe: FileIdentity };

/** Errors come back as values: their code would be lost on the way between threads. */
export type ZipAnswer =
  | { readonly bytes: number; readonly sha256: string; readonly stopped: boolean }
  | { readonly error: { readonly code: string; readonly message: string } };

class Stopped extends Error {}

export default async function zip(job: ZipJob): Promise<ZipAnswer> {
  const hash = createHash('sha256');
  let bytes = 0;
  let crc = 0;
  const watched = async function* (source: AsyncIterable<Buffer | string>) {
    for await (const chunk of source) {
      const piece = chunk as Buffer;
      if (mustStop(job.control)) throw new Stopped();
      hash.update(piece);
      if ('unpack' in job) crc = crc32(piece, crc);
      bytes += piece.length;
      setProgress(job.control, bytes);
      yield piece;
    }
  };
  try {
    const entry = 'unpack' in job ? await openEntry(job.unpack.source, job.unpack.entry) : null;
    const source = entry ? entry.stream : 'pack' in job ? packed(job.pack) : null;
    await pipeline(source!, watched, createWriteStream(job.target, { flags: 'wx' }));
    if (entry && crc !== entry.crc32) throw Object.assign(new Error('the checksum in the bundle does not match'), { code: 'EBUNDLE' });
    if ('pack' in job) for (const entry of job.pack) if ('file' in entry) mustBeSame(await identify(entry.file), entry);
    await flush(job.target);
    return { bytes, sha256: hash.digest('hex'), stopped: false };
  } catch (error) {
    if (error instanceof Stopped) return { bytes, sha256: '', stopped: true };
    const { code, message } = error as NodeJS.ErrnoException;
    return { error: { code: code ?? (/unexpected number of bytes|stat/.test(message) ? 'ESHORT' : 'EBUNDLE'), message } };
  }
}

/** Media is stored as it is; only the texts are deflated. */
function packed(entries: readonly PackedEntry[]): NodeJS.ReadableStream {
  const file = new yazl.ZipFile();
  for (const entry of entries) {
    if ('file' in entry) addFile(file, entry);
    else addText(file, entry);
  }
  file.on('error', (error: Error) => (file.outputStream as unknown as { destroy(error: Error): void }).destroy(error));
  file.end();
  return file.outputStream;
}

function addText(zip: yazl.ZipFile, entry: Exclude<PackedEntry, { file: string }>): void {
  const bytes = Buffer.from(unpacked(entry), 'utf8');
  zip.addBuffer(bytes, entry.path, { compress: bytes.length > 1000 });
}

/** Opened only when its turn comes, and only if it still is the file that was looked at. */
function addFile(zip: yazl.ZipFile, entry: Extract<PackedEntry, { file: string }>): void {
  zip.addReadStreamLazy(
    entry.path,
    { compress: false, size: entry.mustBe.sizeBytes, mtime: new Date(Number(BigInt(entry.mustBe.modifiedNs) / 1_000_000n)) },
    (done) => {
      let handle: number | null = null;
      try {
        handle = openSync(entry.file, 'r');
        mustBeSame(identityOfHandle(handle), entry);
        done(null, createReadStream(entry.file, { fd: handle }));
      } catch (error) {
        if (handle !== null) closeSync(handle);
        done(error, null as never);
      }
    },
  );
}

function mustBeSame(now: FileIdentity, entry: Extract<PackedEntry, { file: string }>): void {
  if (!isUntouched(now, entry.mustBe)) throw Object.assign(new Error(`${entry.path} was changed while it was packed`), { code: 'ECHANGED' });
}

async function flush(path: string): Promise<void> {
  const file = await open(path, 'r+');
  try {
    await file.sync();
  } finally {
    await file.close();
  }
}
