/** One file of a shelf as an item of the stock, read only when it is not known already. */
import { randomUUID } from 'node:crypto';
import { isUntouched, looksSame, unpackIdentity } from '../../core/media/identity';
import type { Item, MediaFacts } from '../../core/media/item';
import { otherFacts, probeFacts, ProbeError } from '../media/probe';
import { damageOf } from '../media/structure';
import { fingerprintFile, fingerprintSequence } from './fingerprint-file';
import { looksOfFrames } from './identify';
import type { KnownContents } from './known-contents';
import type { FoundFile } from './walk';

export interface StoodItem {
  readonly item: Item;
  /** Whether its facts were read by this version. */
  readonly isCurrent: boolean;
  readonly frames: readonly string[] | null;
}

/** `known`: nothing to do; `again`: the same content in another place or state of the file (`isMoved`: the very file, at another place); `read`: all of it was read. */
export type ReadItem =
  | { readonly how: 'known' }
  /** `isFinal`: false for a problem that must be looked at once more. */
  | { readonly how: 'again' | 'read'; readonly item: Item; readonly isFinal: boolean; readonly isMoved?: boolean };

/** What ffprobe says of content that is no media, the same at every look; anything else may have been the drive or the rights. */
const OF_CONTENT = /Invalid data found|no picture and no sound|moov atom not found|not find codec|This format is not read here|Unknown format/i;

/**
 * The item of a found file. What is untouched, whole and up to date is not read; a problem is looked at until it was
 * found twice and lies in the content. Where only inode or change time differ (network drives, restored backups) the
 * fingerprint decides; so it does where an equal content was read at another place of the shelf. A file that cannot be
 * read is an item with a problem; one that went away meanwhile is null.
 */
export async function readItem(
  shelfId: string,
  found: FoundFile,
  old: StoodItem | null,
  contents: KnownContents | null = null,
): Promise<ReadItem | null> {
  const whole = old !== null && old.isCurrent && old.item.fingerprint !== null && old.item.identity !== null;
  if (whole && isUntouched(old.item.identity, found.identity)) return { how: 'known' };
  try {
    if (whole && looksAsBefore(old, found)) {
      const fingerprint = await fingerprintOf(found);
      if (fingerprint === old.item.fingerprint)
        return { how: 'again', item: { ...old.item, identity: found.identity, modifiedMs: found.modifiedMs }, isFinal: true };
    }
    const recognise = old === null ? (contents?.like(found) ?? null) : null;
    const print = recognise ? await printIfReadable(found) : null;
    const known = recognise && print !== null ? recognise(print) : null;
    if (known && (known.isMoved || (await damageIn(found, known.facts)) === null)) {
      const item = itemOf(shelfId, found, randomUUID(), { fingerprint: print, facts: known.facts, problem: null });
      return { how: 'again', item, isFinal: true, isMoved: known.isMoved };
    }
    const item = await readWhole(shelfId, found, old?.item.id ?? randomUUID(), print);
    return { how: 'read', item, isFinal: (item.problem === null && item.damage === undefined) || isSameProblem(item, old) };
  } catch (error) {
    if ((error as NodeJS.ErrnoException).code === 'ENOENT') return null;
    throw error;
  }
}

function isSameProblem(item: Item, old: StoodItem | null): boolean {
  const before = old?.item.identity;
  if (!before || !item.identity || !isUntouched(before, item.identity) || item.fingerprint === null) return false;
  return old.item.problem === item.problem && old.item.damage === item.damage && (item.damage !== undefined || OF_CONTENT.test(item.problem ?? ''));
}

function looksAsBefore(old: StoodItem, found: FoundFile): boolean {
  if (!looksSame(old.item.identity!, found.identity)) return false;
  if (found.frames === null) return true;
  return old.frames !== null && looksOfFrames(old.frames.map(unpackIdentity)) === looksOfFrames(found.frames.map(unpackIdentity));
}

/** `print`: its fingerprint, where it was made already. */
async function readWhole(shelfId: string, found: FoundFile, id: string, print: string | null): Promise<Item> {
  let facts: MediaFacts = otherFacts(found.path);
  let problem: string | null = null;
  let fingerprint: string | null = null;
  try {
    facts = await probeFacts(found.file, found.sequence);
  } catch (error) {
    problem = problemOf(error);
  }
  try {
    fingerprint = print ?? (await fingerprintOf(found));
  } catch (error) {
    problem ??= problemOf(error);
  }
  // Where the fingerprint could not be made the drive or the rights are the trouble, not the file.
  const damage = fingerprint === null ? null : await damageIn(found, problem === null ? facts : null);
  return itemOf(shelfId, found, id, { fingerprint, facts, problem, ...(damage ? { damage } : {}) });
}

function itemOf(
  shelfId: string,
  { path, sizeBytes, modifiedMs, identity }: FoundFile,
  id: string,
  read: Pick<Item, 'fingerprint' | 'facts' | 'problem' | 'damage'>,
): Item {
  return { id, place: { shelfId, path }, sizeBytes, modifiedMs, identity, ...read };
}

/** Whatever goes wrong with one file is said of that file; only its absence is not its own. */
function problemOf(error: unknown): string {
  if ((error as NodeJS.ErrnoException).code === 'ENOENT') throw error;
  return error instanceof ProbeError ? error.message : `It cannot be read: ${(error as Error).message}.`;
}

async function damageIn(found: FoundFile, facts: MediaFacts | null): Promise<string | null> {
  const { file, sizeBytes, sequence, frames } = found;
  try {
    return await damageOf({ file, sizeBytes, facts, sequence, frameBytes: (frames ?? []).map((packed) => unpackIdentity(packed).sizeBytes) });
  } catch (error) {
    if ((error as NodeJS.ErrnoException).code === 'ENOENT') throw error;
    return null;
  }
}

/** What cannot be read is told when it is read as a whole. */
async function printIfReadable(found: FoundFile): Promise<string | null> {
  try {
    return await fingerprintOf(found);
  } catch (error) {
    if ((error as NodeJS.ErrnoException).code === 'ENOENT') throw error;
    return null;
  }
}

function fingerprintOf(found: FoundFile): Promise<string> {
  return found.sequence && found.frames
    ? fingerprintSequence(found.file, found.sequence, found.frames)
    : fingerprintFile(found.file, found.sizeBytes);
}
