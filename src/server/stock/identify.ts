/** Identity of files on the disk. */
import { createHash } from 'node:crypto';
import { fstatSync, lstatSync, statSync, type BigIntStats } from 'node:fs';
import { lstat, stat } from 'node:fs/promises';
import { packIdentity, type FileIdentity } from '../../core/media/identity';

export function identityOf(info: BigIntStats): FileIdentity {
  return {
    sizeBytes: Number(info.size),
    modifiedNs: String(info.mtimeNs),
    changedNs: String(info.ctimeNs),
    inode: String(info.ino),
    bornNs: String(info.birthtimeNs),
  };
}

/** Of an open file. */
export function identityOfHandle(handle: number): FileIdentity {
  return identityOf(fstatSync(handle, { bigint: true }));
}

/** Of the file at a path, links followed. Throws what the file system says. */
export async function identify(path: string): Promise<FileIdentity> {
  return identityOf(await stat(path, { bigint: true }));
}

export function identifySync(path: string): FileIdentity {
  return identityOf(statSync(path, { bigint: true }));
}

/** Null when nothing stands there; a link counts as itself. Throws for anything else the file system says. */
export function standingAt(path: string): FileIdentity | null {
  const info = lstatSync(path, { bigint: true, throwIfNoEntry: false });
  return info ? identityOf(info) : null;
}

/** Like `standingAt`, without holding up anyone else. */
export async function standingNow(path: string): Promise<FileIdentity | null> {
  try {
    return identityOf(await lstat(path, { bigint: true }));
  } catch (error) {
    if (['ENOENT', 'ENOTDIR'].includes((error as NodeJS.ErrnoException).code ?? '')) return null;
    throw error;
  }
}

/** The identity of a sequence: the sum and the latest of its frames, and a digest of each in its place. */
export function identityOfFrames(frames: readonly FileIdentity[]): FileIdentity {
  const latest = (times: readonly string[]) => times.reduce((a, b) => (BigInt(b) > BigInt(a) ? b : a), '0');
  return {
    sizeBytes: frames.reduce((sum, frame) => sum + frame.sizeBytes, 0),
    modifiedNs: latest(frames.map((frame) => frame.modifiedNs)),
    changedNs: latest(frames.map((frame) => frame.changedNs)),
    inode: createHash('sha256').update(frames.map(packIdentity).join('\n')).digest('hex'),
    bornNs: '0',
  };
}

/** Like `identityOfFrames`, without what a copy or a restore changes: equal while size and time of each frame are. */
export function looksOfFrames(frames: readonly FileIdentity[]): string {
  return createHash('sha256')
    .update(frames.map((frame) => `${frame.sizeBytes} ${frame.modifiedNs}`).join('\n'))
    .digest('hex');
}
