/** All files below a shelf's root, image sequences grouped. */
import { fdir } from 'fdir';
import { lstat } from 'node:fs/promises';
import { join, relative, sep } from 'node:path';
import { findSequences, sequenceName } from '../../core/media/image-sequence';
import { folderOf, fileName, joinPath, type SequenceFacts } from '../../core/media/item';
import { PART_SUFFIX } from '../runs/part-name';
import { MARKER_NAME } from './marker';

export interface FoundFile {
  /** Below the shelf's root, with `/`; for a sequence its display name in its folder. */
  readonly path: string;
  /** The file itself, or the first frame. */
  readonly file: string;
  readonly sizeBytes: number;
  readonly modifiedMs: number;
  readonly sequence: SequenceFacts | null;
}

/** Hidden files, half-made files and links are passed over. Names that are not UTF-8 come back in `unreadable`. */
export async function walkShelf(root: string, signal?: AbortSignal): Promise<{ files: FoundFile[]; unreadable: string[] }> {
  const crawler = new fdir().withFullPaths().exclude((name) => name.startsWith('.'));
  const all = await (signal ? crawler.withAbortSignal(signal) : crawler).crawl(root).withPromise();
  const byFolder = new Map<string, string[]>();
  const unreadable: string[] = [];
  for (const absolute of all) {
    const path = relative(root, absolute).split(sep).join('/');
    const name = fileName(path);
    if (name.startsWith('.') || name === MARKER_NAME || name.endsWith(PART_SUFFIX)) continue;
    if (path.includes('\ufffd')) {
      unreadable.push(path);
      continue;
    }
    const names = byFolder.get(folderOf(path));
    if (names) names.push(name);
    else byFolder.set(folderOf(path), [name]);
  }
  const files: FoundFile[] = [];
  for (const [folder, names] of byFolder) {
    const { sequences, single } = findSequences(names);
    for (const name of single) {
      const info = await lstat(join(root, folder, name)).catch(() => null);
      if (!info) unreadable.push(joinPath(folder, name));
      else if (info.isFile())
        files.push({
          path: joinPath(folder, name),
          file: join(root, folder, name),
          sizeBytes: info.size,
          modifiedMs: Math.floor(info.mtimeMs),
          sequence: null,
        });
    }
    for (const found of sequences) {
      const infos = await Promise.all(found.files.map((name) => lstat(join(root, folder, name))));
      files.push({
        path: joinPath(folder, sequenceName(found.facts)),
        file: join(root, folder, found.files[0]!),
        sizeBytes: infos.reduce((sum, info) => sum + info.size, 0),
        modifiedMs: Math.floor(Math.max(...infos.map((info) => info.mtimeMs))),
        sequence: found.facts,
      });
    }
  }
  return { files: files.sort((a, b) => (a.path < b.path ? -1 : 1)), unreadable };
}
