/** Files that no stocktake lists: hidden ones, and those in hidden folders such as the trash of a drive. */
import { lstat } from 'node:fs/promises';
import { relative } from 'node:path';
import { walk as walkFolders, type Entry } from '@nodelib/fs.walk';
import { fileName } from '../../core/media/item';
import { looksLikeMedia } from '../../core/media/media-ending';
import { PART_SUFFIX } from './part-name';

export interface HiddenFiles {
  readonly files: number;
  readonly bytes: number;
  /** Those of them that bear the ending of pictures or sound; paths below the root. */
  readonly media: readonly string[];
  /** Folders that could not be opened. */
  readonly closed: readonly string[];
}

/** The marker of a shelf, and notes beside it. */
const OWN_NAMES = '.mill-shelf';

export async function hiddenFiles(root: string): Promise<HiddenFiles> {
  const closed: string[] = [];
  const entries = await new Promise<Entry[]>((done, fail) =>
    walkFolders(
      root,
      {
        followSymbolicLinks: false,
        entryFilter: ({ dirent, name, path }) =>
          dirent.isFile() && !name.startsWith(OWN_NAMES) && !name.endsWith(PART_SUFFIX) && /(^|\/)\./.test(relative(root, path)),
        errorFilter: ({ code, path }) => {
          if (path !== undefined && code !== 'ENOENT') closed.push(relative(root, path));
          return true;
        },
      },
      (error, found) => (error ? fail(error) : done(found)),
    ),
  );
  let bytes = 0;
  for (const { path } of entries) bytes += (await lstat(path).catch(() => null))?.size ?? 0;
  const media = entries.map(({ path }) => relative(root, path)).filter((path) => looksLikeMedia(fileName(path))).sort(); // prettier-ignore
  return { files: entries.length, bytes, media, closed };
}
