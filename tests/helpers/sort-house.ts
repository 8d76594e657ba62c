/** What tests of sorting look at: every file with its times and content, every link of every project. */
import { createHash } from 'node:crypto';
import { existsSync, mkdirSync, readFileSync, statSync, utimesSync, writeFileSync } from 'node:fs';
import { dirname, join } from 'node:path';
import { OWN_SCHEMES } from '../../src/core/scheme/own-schemes';
import type { SortSettings } from '../../src/core/planning/sort/settings';
import { fdir } from 'fdir';
import type { SmallHouse } from './small-house';

export function sortSettings(shelfId: string, own: Partial<SortSettings> = {}): SortSettings {
  return {
    scope: { of: 'project' },
    scheme: OWN_SCHEMES[0]!,
    structure: 'scheme',
    destination: { shelfId, path: '' },
    rootName: '{project}',
    action: 'move',
    names: { from: 'original', pattern: '', level: 'everywhere' },
    clashes: 'number',
    equalAsOne: false,
    perFolder: null,
    emptyFolders: true,
    second: null,
    makeClips: false,
    removeEmptied: true,
    whole: [],
    exceptions: [],
    date: '2026-11-26',
    ...own,
  };
}

/** Everything below a folder as it stands: times in milliseconds, content by its checksum; folders with their times. */
export function diskState(root: string): Record<string, string> {
  const files = new fdir().withRelativePaths().crawl(root).sync();
  const folders = new fdir().withRelativePaths().onlyDirs().crawl(root).sync();
  const out: Record<string, string> = {};
  for (const path of files) {
    // What houses tell each other is written by itself.
    if (path.startsWith('.mill-shelf-house-')) continue;
    const whole = join(root, path);
    out[path] = `${Math.floor(statSync(whole).mtimeMs)} ${createHash('sha256').update(readFileSync(whole)).digest('hex')}`;
  }
  for (const path of folders)
    if (path !== '.' && path !== '') out[`${path}/`.replace(/\/+$/, '/')] = `folder ${statSync(join(root, path), { bigint: true }).mtimeNs / 1_000n}`;
  return out;
}

/** Every link of every project, as the catalogue has it. */
export function allLinks({ house }: SmallHouse): unknown {
  return house.catalogue.projects
    .list()
    .map(({ id }) => house.catalogue.clips.ofProject(id).map(({ name, renditions }) => ({ name, links: renditions.map(({ links }) => links) })));
}

/** Places that clips link and where nothing stands. */
export function brokenLinks({ house }: SmallHouse): string[] {
  return house.catalogue.projects
    .list()
    .flatMap(({ id }) => house.catalogue.clips.ofProject(id))
    .flatMap(({ renditions }) => renditions.flatMap(({ links }) => links))
    .flatMap(({ place, expected }) => {
      const root = place && house.mounts.rootOf(place.shelfId);
      if (!root || expected.kind === 'sequence') return [];
      return existsSync(join(root, place.path)) ? [] : [place.path];
    });
}

/** A file below a root with folders made, and a time of its own. */
export function put(root: string, path: string, content: Buffer | string, at = 1_700_000_000): void {
  mkdirSync(dirname(join(root, path)), { recursive: true });
  writeFileSync(join(root, path), content);
  utimesSync(join(root, path), at, at);
}
