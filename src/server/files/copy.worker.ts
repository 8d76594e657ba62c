/** Writing a file from parts of another while hashing it, flushing it, and reading it back; or only reading one. */
import { createHash } from 'node:crypto';
import { closeSync, constants, fchmodSync, fstatSync, fsyncSync, futimesSync, openSync, readSync, writeSync } from 'node:fs';
import { isUntouched, type FileIdentity } from '../../core/media/identity';
import type { Place } from '../../core/media/item';
import type { Segment } from '../../core/media/riff';
import { withWholeParts } from '../../core/planning/package/whole-parts';
import type { CutPart } from '../../core/planning/plan/step';
import { unpacked, type PackedText } from '../catalogue/run-texts';
import { identityOfHandle } from '../stock/identify';
import { mustStop, mustWait, setProgress, type SharedControl } from '../threads/control';

/** A text to be written; in a timeline references to `parts` that are `whole` files say so. */
export type WrittenText = PackedText & { readonly parts: readonly CutPart[]; readonly whole: readonly Place[] };

export interface CopyJob {
  /** Null only reads `target` and hashes it. */
  readonly write: {
    readonly source: string | null;
    readonly segments: readonly Segment[] | 'all';
    /** Written after them, in UTF-8. */
    readonly text?: WrittenText;
    readonly keepTimes: boolean;
    /** The source as it was looked at: the copy is thrown away unless it is that before the first and after the last byte. */
    readonly mustBe: FileIdentity | null;
    /** A second file that the same bytes are written to. What goes wrong with it alone does not end the job. */
    readonly twin?: string | null;
  } | null;
  readonly target: string;
  readonly control: SharedControl;
}

/** Errors come back as values: their code would be lost on the way between threads. */
export type CopyAnswer = CopyResult | { readonly error: { readonly code: string; readonly message: string } };

export interface CopyResult {
  readonly bytes: number;
  readonly sha256: string;
  readonly stopped: boolean;
  /** Whether the second file was written and read back too. */
  readonly twinMade?: boolean;
}

const BLOCK = 4 * 1024 * 1024;

export default function copy(job: CopyJob): CopyAnswer {
  try {
    return copyOrRead(job);
  } catch (error) {
    const { code, message } = error as NodeJS.ErrnoException;
    if (code === undefined) throw error;
    return { error: { code, message } };
  }
}

function copyOrRead(job: CopyJob): CopyResult {
  if (!job.write) return readBack(job.target, job.control, 0);
  const written = writeTarget(job, job.write);
  if (written.stopped) return written;
  const back = readBack(job.target, job.control, written.bytes);
  if (!back.stopped && (back.sha256 !== written.sha256 || back.bytes !== written.bytes)) {
    throw Object.assign(new Error('what was read back differs from what was written'), { code: 'EREADBACK' });
  }
  return { ...back, twinMade: !back.stopped && written.twinMade === true && isTwin(job.write.twin!, back, job.control) };
}

/** Whether the second file reads back as the first. */
function isTwin(path: string, first: CopyResult, control: SharedControl): boolean {
  try {
    const { sha256, bytes, stopped } = readBack(path, control, 2 * first.bytes);
    return !stopped && sha256 === first.sha256 && bytes === first.bytes;
  } catch {
    return false;
  }
}

/** Writes to the second file until something goes wrong with it. */
class Twin {
  private file: number | null = null;

  constructor(path: string | null | undefined) {
    if (path) this.attempt(() => (this.file = openSync(path, 'wx', 0o666)));
  }

  get stands(): boolean {
    return this.file !== null;
  }

  attempt(work: (file: number) => void): void {
    try {
      work(this.file ?? -1);
    } catch {
      this.close();
    }
  }

  write(piece: Uint8Array): void {
    if (this.file !== null) this.attempt((file) => writeWhole(file, piece));
  }

  close(): void {
    const file = this.file;
    this.file = null;
    if (file !== null) closeSync(file);
  }
}

function writeWhole(file: number, piece: Uint8Array): void {
  for (let done = 0; done < piece.length;) done += writeSync(file, piece, done, piece.length - done);
}

/** Writes every segment in order; the target must not exist. Progress counts bytes written. */
function writeTarget(job: CopyJob, plan: NonNullable<CopyJob['write']>): CopyResult {
  const target = openSync(job.target, 'wx', 0o666);
  const source = plan.source === null ? null : openSync(plan.source, constants.O_RDONLY);
  const twin = new Twin(plan.twin);
  const hash = createHash('sha256');
  const block = Buffer.allocUnsafe(BLOCK);
  let bytes = 0;
  const put = (piece: Uint8Array) => {
    hash.update(piece);
    writeWhole(target, piece);
    twin.write(piece);
    bytes += piece.length;
    setProgress(job.control, bytes);
  };
  const before = source === null ? null : (plan.mustBe ?? identityOfHandle(source));
  const mustBeSame = () => {
    if (source !== null && before !== null && !isUntouched(identityOfHandle(source), before))
      throw Object.assign(new Error('the source was changed while it was read'), { code: 'ECHANGED' });
  };
  try {
    mustBeSame();
    const size = before?.sizeBytes ?? 0;
    const segments: readonly Segment[] = plan.segments === 'all' ? [{ type: 'range', offset: 0, length: size }] : plan.segments;
    for (const segment of segments) {
      if (segment.type === 'bytes') {
        put(segment.bytes);
        continue;
      }
      for (let done = 0; done < segment.length;) {
        const waited = mustWait(job.control);
        if (mustStop(job.control)) return { bytes, sha256: '', stopped: true };
        if (waited) mustBeSame();
        const got = readSync(source!, block, 0, Math.min(BLOCK, segment.length - done), segment.offset + done);
        if (got === 0) throw Object.assign(new Error('the source ended too early: it was changed while it was read'), { code: 'ESHORT' });
        put(block.subarray(0, got));
        done += got;
      }
    }
    if (plan.text) put(Buffer.from(withWholeParts(unpacked(plan.text), plan.text.parts, plan.text.whole), 'utf8'));
    mustBeSame();
    if (plan.keepTimes && source !== null) {
      const info = fstatSync(source);
      // Seconds as a floating number may fall short of the millisecond: aim at its middle.
      const modified = (Math.floor(info.mtimeMs) + 0.5) / 1000;
      futimesSync(target, info.atime, modified);
      if (twin.stands) twin.attempt((file) => futimesSync(file, info.atime, modified));
      keepMode(target, info.mode);
      if (twin.stands) twin.attempt((file) => keepMode(file, info.mode));
    }
    fsyncSync(target);
    if (twin.stands) twin.attempt(fsyncSync);
    return { bytes, sha256: hash.digest('hex'), stopped: false, twinMade: twin.stands };
  } finally {
    if (source !== null) closeSync(source);
    closeSync(target);
    twin.attempt(() => twin.close());
  }
}

/**
 * Reads a file past the page cache where the file system allows it (O_DIRECT wants page-aligned memory, which a
 * WebAssembly.Memory has), so that what is compared comes from the medium.
 */
function readBack(path: string, control: SharedControl, base: number): CopyResult {
  const memory = new WebAssembly.Memory({ initial: BLOCK / 65_536 });
  const block = Buffer.from(memory.buffer);
  const { file, direct } = openDirect(path);
  const hash = createHash('sha256');
  let bytes = 0;
  try {
    for (;;) {
      if (mustStop(control)) return { bytes, sha256: '', stopped: true };
      const got = readSync(file, block, 0, BLOCK, direct ? null : bytes);
      if (got === 0) break;
      hash.update(block.subarray(0, got));
      bytes += got;
      setProgress(control, base + bytes);
    }
  } finally {
    closeSync(file);
  }
  return { bytes, sha256: hash.digest('hex'), stopped: false };
}

function openDirect(path: string): { file: number; direct: boolean } {
  try {
    return { file: openSync(path, constants.O_RDONLY | constants.O_DIRECT), direct: true };
  } catch {
    return { file: openSync(path, constants.O_RDONLY), direct: false };
  }
}

/** Not every file system has permissions. */
function keepMode(file: number, mode: number): void {
  try {
    fchmodSync(file, mode & 0o777);
  } catch {
    // It has those that all files there have.
  }
}
