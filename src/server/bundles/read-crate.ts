/** A crate on the disk, as the core wants to see it before opening. Nothing outside its folder is read, whatever links say. */
import { createHash } from 'node:crypto';
import { existsSync, lstatSync } from 'node:fs';
import { readdir, readFile } from 'node:fs/promises';
import { fdir } from 'fdir';
import { join, relative, sep } from 'node:path';
import type { ArchiveEntry, ArchiveFormat } from '../../core/archive/archive-format';
import { archiveAt, CRATE_FORMAT } from '../../core/archive/archive-formats';
import { staysInside } from '../../core/archive/bagit/bag';
import { fileName, joinPath, type Place } from '../../core/media/item';
import type { CrateContent, CrateTimeline } from '../../core/planning/package/crate-content';
import { parseRate, rate } from '../../core/time/rate';
import { PlaceError, resolveBelow, type Places } from '../stock/mounts';
import { Problem } from '../errors/problem';

/** What is wrong with a folder that was to be opened as a crate. */
export class CrateError extends Problem {
  constructor(detail: string) {
    super('not-a-crate', detail);
  }
}

export async function readCrate(places: Places, root: Place): Promise<CrateContent> {
  const folder = places.resolve(root);
  const format = archiveAt((name) => existsSync(join(folder, name)));
  if (!format)
    throw new CrateError(
      `There is no ${CRATE_FORMAT.mark} in ${fileName(root.path) || 'this folder'}: it is no crate, or one that was not finished. Choose the folder that holds ${CRATE_FORMAT.mark} and ${CRATE_FORMAT.payloadFolder}.`,
    );
  if (!existsSync(join(folder, format.manifest))) throw new CrateError(`The crate has no ${format.manifest}, so it cannot be checked.`);
  const read = await format.read((path) => textInside(folder, path));
  mustStayInside(read.entries, 'The manifest');
  mustStayInside(read.tags ?? [], format.tagList);
  const { about } = read;
  const sizes = await fileSizes(folder);
  const composed = new Map([...sizes.keys()].map((path) => [path.normalize('NFC'), path]));
  return {
    root,
    name: about.name ?? fileName(root.path),
    projectName: about.projectName ?? fileName(root.path),
    rate: parseRate(about.rate ?? '') ?? rate(25),
    dropFrame: about.dropFrame ?? false,
    entries: read.entries.map((entry) => asItStands(entry, sizes, composed)),
    badLines: read.badLines,
    sizes,
    timelines: await readTimelines(folder, format),
    oxum: read.payload,
    tags: read.tags,
    tagSums: read.tags === null ? new Map() : await tagSums(folder, sizes, format),
  };
}

/** Throws CrateError for an entry that leads out of the crate. */
function mustStayInside(entries: readonly ArchiveEntry[], list: string): void {
  const outside = entries.find((entry) => !staysInside(entry.path));
  if (outside) throw new CrateError(`${list} names "${outside.path}", which lies outside the crate. It is not opened.`);
}

async function textInside(folder: string, path: string): Promise<string | null> {
  return existsSync(join(folder, path)) ? (await readInside(folder, path)).toString('utf8') : null;
}

/** A file of the crate. Throws CrateError for one that a link puts outside, or that is no file. */
async function readInside(folder: string, path: string): Promise<Buffer> {
  try {
    const inside = resolveBelow(folder, { shelfId: '', path });
    if (!lstatSync(inside).isFile()) throw new CrateError(`"${path}" in the crate is a link or a folder where a file is needed. It is not opened.`);
    return await readFile(inside);
  } catch (error) {
    if (error instanceof PlaceError) throw new CrateError(`"${path}" in the crate leads out of it by a link. It is not opened.`);
    throw error;
  }
}

/**
 * The entry under the name that stands on the disk. Older writers leave a percent sign as it is, and some file systems
 * give letters back in two pieces: where only such a name stands there, that is the one.
 */
function asItStands(entry: ArchiveEntry, sizes: ReadonlyMap<string, number>, composed: ReadonlyMap<string, string>): ArchiveEntry {
  const { path, literal } = entry;
  if (sizes.has(path)) return entry;
  if (literal !== undefined && sizes.has(literal) && staysInside(literal)) return { ...entry, path: literal };
  const standing = composed.get(path.normalize('NFC'));
  return standing === undefined ? entry : { ...entry, path: standing };
}

/** Sizes of the files that are there; links count as nothing. */
async function fileSizes(folder: string): Promise<Map<string, number>> {
  const files = await new fdir().withFullPaths().crawl(folder).withPromise();
  return new Map(
    files.flatMap((file): [string, number][] => {
      const info = lstatSync(file, { throwIfNoEntry: false });
      return info?.isFile() ? [[relative(folder, file).split(sep).join('/'), info.size]] : [];
    }),
  );
}

/** What tells of the crate and is none of its payload, to be held against the list of these (RFC 8493, section 2.2.1). */
async function tagSums(folder: string, sizes: ReadonlyMap<string, number>, { isPayload, tagList }: ArchiveFormat): Promise<Map<string, string>> {
  const sums = new Map<string, string>();
  for (const path of sizes.keys())
    if (!isPayload({ path }) && path !== tagList)
      sums.set(path, createHash('sha256').update(await readInside(folder, path)).digest('hex')); // prettier-ignore
  return sums;
}

async function readTimelines(folder: string, { payloadFolder }: ArchiveFormat): Promise<CrateTimeline[]> {
  const below = `${payloadFolder}/timelines`;
  const names = await readdir(join(folder, below)).catch(() => []);
  const timelines = names.filter((name) => name.endsWith('.otio')).sort();
  return Promise.all(
    timelines.map(async (name) => {
      const path = joinPath(below, name);
      const bytes = await readInside(folder, path);
      const sha256 = createHash('sha256').update(bytes).digest('hex');
      return { name: name.replace(/\.otio$/, ''), path, sha256, text: bytes.toString('utf8'), folder: 'timelines' };
    }),
  );
}
