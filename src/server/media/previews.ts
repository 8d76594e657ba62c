/** Small copies of what a browser cannot play, made when somebody looks, one at a time, and kept within a budget. */
import { colourTags, scalerColours } from '../../core/rendition/colours';
import { createHash } from 'node:crypto';
import { access, mkdir, writeFile } from 'node:fs/promises';
import { dirname, join } from 'node:path';
import type { Item } from '../../core/media/item';
import { PREVIEW_SECONDS } from '../../core/media/playable';
import { rate } from '../../core/time/rate';
import { sourceArguments, type EncodeSource } from './encode-arguments';
import { withHeldFrames } from './held-frames';
import { fileArgument, LOOK_MEMORY_BYTES, MOST_PIXELS, runTool } from './ffmpeg';
import { PictureCache } from './picture-cache';
import { PictureQueue, TooManyPictures } from './picture-queue';

const WIDTH = 640;
/** Stepping goes back to a key frame: twice a second. */
const KEY_FRAMES = 12;
const LONGEST_MS = 900_000;
/** Hidden, so that no stocktake takes previews for media. */
export const PREVIEW_FOLDER = '.mill-shelf-previews';
/** As the Cache Directory Tagging Specification has it. */
export const CACHE_TAG =
  'Signature: 8a477f597d28d172789f06886806bc55\n# Previews that Mill Shelf makes anew when they are gone. See https://bford.info/cachedir/\n';
export const PREVIEWS_AT_ONCE = 1;
const MOST_WAITING = 20;
export const PREVIEW_CACHE_BYTES = 4 * 1024 ** 3;

export class Previews {
  private readonly queue = new PictureQueue<string>(PREVIEWS_AT_ONCE, MOST_WAITING);
  private readonly cache: PictureCache;
  /** By their folders: those that are at home elsewhere. */
  private readonly homes = new Map<string, PictureCache>();

  constructor(
    folder: string,
    private readonly mostBytes = PREVIEW_CACHE_BYTES,
  ) {
    this.cache = new PictureCache(folder, mostBytes, '.mp4');
  }

  /**
   * Path of an MP4 of `file`, made now unless it was before; null where nothing can be shown of it. `home`: folder in
   * which new ones go; where nothing can be written there, or it is null, the house keeps them. Rejects with
   * TooManyPictures.
   */
  async file(item: Item, file: string, home: string | null, signal?: AbortSignal): Promise<string | null> {
    const { video, audio } = item.facts;
    if (!video && audio.length === 0) return null;
    if (video && video.width * video.height > MOST_PIXELS) return null;
    const key = createHash('sha256')
      .update(JSON.stringify(['preview 3', item.fingerprint, item.sizeBytes, item.modifiedMs, item.place]))
      .digest('hex');
    const own = home === null ? null : await this.atHome(home);
    const make = async (gone: AbortSignal) => {
      const into = (cache: PictureCache) => cache.make(key, (part) => makePreview(item, file, part, gone));
      // A drive that is full or went meanwhile is no reason to show nothing.
      const made = own && (await into(own).catch((error: unknown) => (error instanceof TooManyPictures ? Promise.reject(error) : null)));
      return made ?? into(this.cache);
    };
    return (await own?.find(key)) ?? (await this.cache.find(key)) ?? this.queue.get(key, make, signal);
  }

  /** Null where nothing can be written. */
  private async atHome(home: string): Promise<PictureCache | null> {
    const folder = join(home, PREVIEW_FOLDER);
    const known = this.homes.get(folder);
    if (known) return known;
    try {
      await mkdir(folder, { recursive: true });
      // Programs that back things up pass over it.
      await writeFile(join(folder, 'CACHEDIR.TAG'), CACHE_TAG);
    } catch {
      return null;
    }
    const cache = new PictureCache(folder, this.mostBytes, '.mp4');
    this.homes.set(folder, cache);
    return cache;
  }
}

async function makePreview({ facts }: Item, file: string, part: string, signal: AbortSignal): Promise<boolean> {
  const { source, close } = await withHeldFrames({ path: facts.sequence ? dirname(file) : file, facts });
  try {
    return await makeOf(source, facts, part, signal);
  } finally {
    await close();
  }
}

async function makeOf(source: EncodeSource, facts: Item['facts'], part: string, signal: AbortSignal): Promise<boolean> {
  const picture = facts.video
    ? ['-map', '0:V:0', '-vf', `scale='min(${WIDTH},iw)':-2:flags=area${scalerColours(facts.video)},setsar=1,pad=ceil(iw/2)*2:ceil(ih/2)*2,format=yuv420p`, '-fps_mode', 'passthrough', '-c:v', 'libx264', '-preset', 'veryfast', '-crf', '26', '-bf', '0', '-g', String(KEY_FRAMES), ...colourTags(facts.video)] // prettier-ignore
    : [];
  const sound = facts.audio.length === 0 ? [] : ['-map', '0:a:0', '-c:a', 'aac', '-ac', '2', '-b:a', '96k'];
  const args = ['-max_pixels', String(MOST_PIXELS), ...sourceArguments(source, { sequenceRate: facts.rate ?? rate(25) }), ...picture, ...sound, '-t', String(PREVIEW_SECONDS), '-map_metadata', '-1', '-movflags', '+faststart', '-f', 'mp4', '-y', fileArgument(part)]; // prettier-ignore
  const result = await runTool('ffmpeg', args, { signal, timeLimitMs: LONGEST_MS, mostMemoryBytes: LOOK_MEMORY_BYTES, inBackground: true });
  if (result.exitCode === 0) return true;
  if (result.wasEnded) throw new TooManyPictures();
  await access(source.path);
  return false;
}
