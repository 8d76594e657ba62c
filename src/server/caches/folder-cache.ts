/** A cache that is a folder of files, or several. */
import { rm, stat } from 'node:fs/promises';
import { basename } from 'node:path';
import { fdir } from 'fdir';
import type { Cache, CachedFile } from './cache';

/** What was touched within it may be in the making. */
const MAKING_MS = 60_000;

/** Files below the folder; none where it is not there. Those of other makers are no part of it (`isOwn`: by its name). */
export async function filesIn(folder: string, isOwn: (name: string) => boolean = () => true): Promise<CachedFile[]> {
  const paths = await new fdir().withFullPaths().crawl(folder).withPromise();
  const files = await Promise.all(
    paths.filter((path) => isOwn(basename(path))).map(async (path) => ({ path, info: await stat(path).catch(() => null) })),
  );
  return files.flatMap(({ path, info }) => (info ? [{ path, bytes: info.size, usedMs: info.mtimeMs }] : []));
}

/** `folders`: where they are just now. */
export function folderCache(name: string, again: string, folders: string | (() => readonly string[]), isOwn?: (name: string) => boolean): Cache {
  const list = async () => {
    const all = typeof folders === 'string' ? [folders] : [...new Set(folders())];
    return (await Promise.all(all.map((folder) => filesIn(folder, isOwn)))).flat();
  };
  return {
    name,
    again,
    list,
    async clear() {
      let freed = 0;
      for (const { path, bytes, usedMs } of await list()) {
        if (path.endsWith('.part') && Date.now() - usedMs < MAKING_MS) continue;
        await rm(path, { force: true });
        freed += bytes;
      }
      return freed;
    },
  };
}
