/** All files below a shelf's root, image sequences grouped. */
import { lstat } from 'node:fs/promises';
import { basename, join, relative, sep } from 'node:path';
import { walk as walkFolders, type Entry } from '@nodelib/fs.walk';
import { packIdentity, type FileIdentity } from '../../core/media/identity';
import { findSequences, sequenceName } from '../../core/media/image-sequence';
import { folderOf, fileName, joinPath, type SequenceFacts } from '../../core/media/item';
import { PART_SUFFIX } from './part-name';
import { identityOf, identityOfFrames } from './identify';
import { MARKER_NAME } from './marker';

export interface FoundFile {
  /** Below the shelf's root, with `/`; for a sequence its display name in its folder. */
  readonly path: string;
  /** The file itself, or the first frame. */
  readonly file: string;
  readonly sizeBytes: number;
  readonly modifiedMs: number;
  readonly identity: FileIdentity;
  readonly sequence: SequenceFacts | null;
  /** Packed identity of each frame; null for a file. */
  readonly frames: readonly string[] | null;
}

export interface Walked {
  readonly files: readonly FoundFile[];
  /** Names that are no text. */
  readonly unreadable: readonly string[];
  /** Folders that could not be listed: nothing is known of what lies in them. */
  readonly closedFolders: readonly string[];
}

/** Hidden files, half-made files and links are passed over. Rejects when the root itself cannot be listed. */
export async function walkShelf(root: string, signal?: AbortSignal): Promise<Walked> {
  const { entries, closed } = await listFiles(root, signal);
  const below = (path: string) => relative(root, path).split(sep).join('/');
  const byFolder = new Map<string, string[]>();
  const unreadable: string[] = [];
  for (const entry of entries) {
    const path = below(entry.path);
    const name = fileName(path);
    if (name === MARKER_NAME || name.endsWith(PART_SUFFIX)) continue;
    if (path.includes('\ufffd')) {
      unreadable.push(path);
      continue;
    }
    const names = byFolder.get(folderOf(path));
    if (names) names.push(name);
    else byFolder.set(folderOf(path), [name]);
  }
  const files: FoundFile[] = [];
  const closedFolders = new Set(closed.map(below));
  for (const [folder, names] of byFolder) {
    const { sequences, single } = findSequences(names);
    for (const name of single) {
      const identity = await identityAt(join(root, folder, name));
      if (identity === 'closed') closedFolders.add(folder);
      if (!identity || identity === 'closed') continue;
      const path = joinPath(folder, name);
      files.push({ ...sizeAndTime(identity), path, file: join(root, folder, name), identity, sequence: null, frames: null });
    }
    for (const found of sequences) {
      const identities = await Promise.all(found.files.map((name) => identityAt(join(root, folder, name))));
      if (identities.includes('closed')) closedFolders.add(folder);
      const known = identities.filter((identity) => identity !== null && identity !== 'closed');
      // A frame that went away meanwhile makes another sequence: the next stocktake sees which.
      if (known.length < identities.length) continue;
      const identity = identityOfFrames(known);
      files.push({
        ...sizeAndTime(identity),
        path: joinPath(folder, sequenceName(found.facts)),
        file: join(root, folder, found.files[0]!),
        identity,
        sequence: found.facts,
        frames: known.map(packIdentity),
      });
    }
  }
  return { files: files.sort((a, b) => (a.path < b.path ? -1 : 1)), unreadable, closedFolders: [...closedFolders] };
}

function sizeAndTime(identity: FileIdentity): { sizeBytes: number; modifiedMs: number } {
  return { sizeBytes: identity.sizeBytes, modifiedMs: Number(BigInt(identity.modifiedNs) / 1_000_000n) };
}

/** Null when it is gone or no file; `closed` when its folder does not let it be looked at. */
async function identityAt(path: string): Promise<FileIdentity | null | 'closed'> {
  try {
    const info = await lstat(path, { bigint: true });
    return info.isFile() ? identityOf(info) : null;
  } catch (error) {
    return (error as NodeJS.ErrnoException).code === 'ENOENT' ? null : 'closed';
  }
}

/** Folders that vanish while they are walked are no error; those that cannot be listed are kept by name. */
function listFiles(root: string, signal?: AbortSignal): Promise<{ entries: Entry[]; closed: string[] }> {
  const closed: string[] = [];
  return new Promise((done, fail) =>
    walkFolders(
      root,
      {
        followSymbolicLinks: false,
        entryFilter: (entry) => entry.dirent.isFile() && !entry.name.startsWith('.'),
        deepFilter: (entry) => !entry.name.startsWith('.'),
        errorFilter: ({ code, path }) => {
          if (path === undefined || path === root || basename(path) === '') return false;
          if (code !== 'ENOENT') closed.push(path);
          return true;
        },
        ...(signal ? { signal } : {}),
      },
      (error, entries) => (error ? fail(error) : done({ entries, closed })),
    ),
  );
}
