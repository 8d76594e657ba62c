/** A crate on the disk, as the core wants to see it before opening. Nothing outside its folder is read, whatever links say. */
import { createHash } from 'node:crypto';
import { existsSync, lstatSync } from 'node:fs';
import { readdir, readFile } from 'node:fs/promises';
import { fdir } from 'fdir';
import { join, relative, sep } from 'node:path';
import { isPayload, readBagInfo, readManifest, staysInside, type ManifestEntry } from '../../core/manifest/bag';
import { fileName, joinPath, type Place } from '../../core/media/item';
import type { CrateContent, CrateTimeline } from '../../core/planning/package/crate-content';
import { parseRate, rate } from '../../core/time/rate';
import { PlaceError, resolveBelow, type Places } from '../stock/mounts';

/** What is wrong with a folder that was to be opened as a crate. */
export class CrateError extends Error {}

export async function readCrate(places: Places, root: Place): Promise<CrateContent> {
  const folder = places.resolve(root);
  if (!existsSync(join(folder, 'bagit.txt')))
    throw new CrateError(
      `There is no bagit.txt in ${fileName(root.path) || 'this folder'}: it is no crate, or one that was not finished. Choose the folder that holds bagit.txt and data.`,
    );
  if (!existsSync(join(folder, 'manifest-sha256.txt'))) throw new CrateError('The crate has no manifest-sha256.txt, so it cannot be checked.');
  const infoText = existsSync(join(folder, 'bag-info.txt')) ? (await readInside(folder, 'bag-info.txt')).toString('utf8') : '';
  const info = readBagInfo(infoText);
  const manifest = readManifest((await readInside(folder, 'manifest-sha256.txt')).toString('utf8'));
  const outside = manifest.entries.find((entry) => !staysInside(entry.path));
  if (outside) throw new CrateError(`The manifest names "${outside.path}", which lies outside the crate. It is not opened.`);
  const oxum = /^(\d+)\.(\d+)$/.exec(info.get('Payload-Oxum') ?? '');
  const sizes = await fileSizes(folder);
  const composed = new Map([...sizes.keys()].map((path) => [path.normalize('NFC'), path]));
  return {
    root,
    name: info.get('External-Identifier') ?? fileName(root.path),
    projectName: info.get('Project-Name') ?? fileName(root.path),
    rate: parseRate(info.get('Project-Rate') ?? '') ?? rate(25),
    dropFrame: info.get('Project-Drop-Frame') === 'yes',
    entries: manifest.entries.map((entry) => asItStands(entry, sizes, composed)),
    badLines: manifest.badLines,
    sizes,
    timelines: await readTimelines(folder),
    oxum: oxum ? { bytes: Number(oxum[1]), files: Number(oxum[2]) } : null,
    ...(await readTags(folder, sizes)),
  };
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
function asItStands(entry: ManifestEntry, sizes: ReadonlyMap<string, number>, composed: ReadonlyMap<string, string>): ManifestEntry {
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

/** What tells of the crate and is none of its payload, against the list of these where there is one (RFC 8493, section 2.2.1). */
async function readTags(folder: string, sizes: ReadonlyMap<string, number>): Promise<Pick<CrateContent, 'tags' | 'tagSums'>> {
  if (!sizes.has(TAG_LIST)) return { tags: null, tagSums: new Map() };
  const { entries } = readManifest((await readInside(folder, TAG_LIST)).toString('utf8'));
  const outside = entries.find((entry) => !staysInside(entry.path));
  if (outside) throw new CrateError(`${TAG_LIST} names "${outside.path}", which lies outside the crate. It is not opened.`);
  const sums = new Map<string, string>();
  for (const path of sizes.keys())
    if (!isPayload({ path }) && path !== TAG_LIST)
      sums.set(path, createHash('sha256').update(await readInside(folder, path)).digest('hex')); // prettier-ignore
  return { tags: entries, tagSums: sums };
}

const TAG_LIST = 'tagmanifest-sha256.txt';

async function readTimelines(folder: string): Promise<CrateTimeline[]> {
  const names = await readdir(join(folder, 'data/timelines')).catch(() => []);
  const timelines = names.filter((name) => name.endsWith('.otio')).sort();
  return Promise.all(
    timelines.map(async (name) => {
      const path = joinPath('data/timelines', name);
      const bytes = await readInside(folder, path);
      const sha256 = createHash('sha256').update(bytes).digest('hex');
      return { name: name.replace(/\.otio$/, ''), path, sha256, text: bytes.toString('utf8'), folder: 'timelines' };
    }),
  );
}
