/** A crate on the disk, as the core wants to see it before opening. */
import { existsSync } from 'node:fs';
import { readdir, readFile, stat } from 'node:fs/promises';
import { fdir } from 'fdir';
import { join, relative, sep } from 'node:path';
import { readBagInfo, readManifest, staysInside } from '../../core/manifest/bag';
import { fileName, type Place } from '../../core/media/item';
import type { CrateContent } from '../../core/planning/restore';
import { parseRate, rate } from '../../core/time/rate';
import type { Mounts } from '../stock/mounts';

/** What is wrong with a folder that was to be opened as a crate. */
export class CrateError extends Error {}

export async function readCrate(mounts: Mounts, root: Place): Promise<CrateContent> {
  const folder = mounts.resolve(root);
  const read = (name: string) => readFile(join(folder, name), 'utf8');
  if (!existsSync(join(folder, 'bagit.txt')))
    throw new CrateError(
      `There is no bagit.txt in ${fileName(root.path) || 'this folder'}: it is no crate. Choose the folder that holds bagit.txt and data.`,
    );
  if (!existsSync(join(folder, 'manifest-sha256.txt'))) throw new CrateError('The crate has no manifest-sha256.txt, so it cannot be checked.');
  const info = existsSync(join(folder, 'bag-info.txt')) ? readBagInfo(await read('bag-info.txt')) : new Map<string, string>();
  const manifest = readManifest(await read('manifest-sha256.txt'));
  const outside = manifest.entries.find((entry) => !staysInside(entry.path));
  if (outside) throw new CrateError(`The manifest names "${outside.path}", which lies outside the crate. It is not opened.`);
  const oxum = /^(\d+)\.(\d+)$/.exec(info.get('Payload-Oxum') ?? '');
  return {
    root,
    name: info.get('External-Identifier') ?? fileName(root.path),
    projectName: info.get('Project-Name') ?? fileName(root.path),
    rate: parseRate(info.get('Project-Rate') ?? '') ?? rate(25),
    dropFrame: info.get('Project-Drop-Frame') === 'yes',
    entries: manifest.entries,
    badLines: manifest.badLines,
    sizes: await fileSizes(folder),
    timelines: await readTimelines(folder),
    oxum: oxum ? { bytes: Number(oxum[1]), files: Number(oxum[2]) } : null,
  };
}

async function fileSizes(folder: string): Promise<Map<string, number>> {
  const files = await new fdir().withFullPaths().crawl(folder).withPromise();
  const entries = await Promise.all(files.map(async (file) => [relative(folder, file).split(sep).join('/'), (await stat(file)).size] as const));
  return new Map(entries);
}

async function readTimelines(folder: string): Promise<CrateContent['timelines']> {
  const names = await readdir(join(folder, 'data/timelines')).catch(() => []);
  const timelines = names.filter((name) => name.endsWith('.otio')).sort();
  return Promise.all(
    timelines.map(async (name) => ({
      name: name.replace(/\.otio$/, ''),
      text: await readFile(join(folder, 'data/timelines', name), 'utf8'),
      folder: 'timelines',
    })),
  );
}
