/** Poster frames of items, made by ffmpeg and kept in the data folder. */
import { createHash } from 'node:crypto';
import { mkdir, readFile, rename } from 'node:fs/promises';
import { dirname, join } from 'node:path';
import type { Item } from '../../core/media/item';
import { frameToMicroseconds } from '../../core/time/convert';
import { inputArguments, pictureArguments, runTool } from './ffmpeg';

const POSTER_WIDTH = 480;

/** JPEG of item frame `frame` (from 0) of `file`, which is that very frame where the item is a sequence; or null when the item has no picture or it cannot be read. */
export async function posterFrame(cacheFolder: string, item: Item, file: string, frame: number): Promise<Buffer | null> {
  if (!item.facts.video) return null;
  const key = createHash('sha256')
    .update(JSON.stringify([item.fingerprint, item.sizeBytes, item.modifiedMs, item.place, frame]))
    .digest('hex');
  const kept = join(cacheFolder, key.slice(0, 2), `${key}.jpg`);
  const cached = await readFile(kept).catch(() => null);
  if (cached) return cached;
  await mkdir(dirname(kept), { recursive: true });
  const { sequence, rate } = item.facts;
  const seek = rate && !sequence ? ['-ss', `${frameToMicroseconds(frame, rate)}us`] : [];
  const part = `${kept}.${process.pid}.part`;
  const result = await runTool(
    'ffmpeg',
    [
      ...seek,
      ...(item.facts.kind === 'still' || sequence ? pictureArguments(file) : inputArguments(file)),
      '-frames:v',
      '1',
      '-vf',
      `scale=${POSTER_WIDTH}:-2:flags=area,format=yuvj420p`,
      '-q:v',
      '4',
      '-f',
      'mjpeg',
      '-y',
      part,
    ],
    undefined,
    30_000,
  );
  if (result.exitCode !== 0) return null;
  await rename(part, kept);
  return readFile(kept).catch(() => null);
}
