import { fdir } from 'fdir';
import { stat } from 'node:fs/promises';

/** Bytes of all files below a folder; what vanishes meanwhile counts nothing. */
export async function folderBytes(folder: string): Promise<number> {
  const files = await new fdir().withFullPaths().crawl(folder).withPromise();
  const sizes = await Promise.all(
    files.map((file) =>
      stat(file).then(
        (info) => info.size,
        () => 0,
      ),
    ),
  );
  return sizes.reduce((sum, size) => sum + size, 0);
}
