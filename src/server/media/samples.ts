/** A short piece of a source encoded as asked: how many bytes and how long it takes, and one of its pictures to be looked at. */
import { colourTags } from '../../core/rendition/colours';
import { createHash } from 'node:crypto';
import { readFile } from 'node:fs/promises';
import { dirname, join } from 'node:path';
import { frameName } from '../../core/media/image-sequence';
import type { Item } from '../../core/media/item';
import { optionsAt, presetOf } from '../../core/rendition/presets';
import type { Recipe } from '../../core/rendition/recipe';
import { frameToMicroseconds } from '../../core/time/convert';
import { rate } from '../../core/time/rate';
import { pictureFilter, sequenceArguments } from './encode-arguments';
import { complaint, fileArgument, inputArguments, LOOK_MEMORY_BYTES, MOST_PIXELS, pictureArguments, runTool } from './ffmpeg';
import { PictureCache } from './picture-cache';
import { PictureQueue, TooManyPictures } from './picture-queue';
import { Problem } from '../errors/problem';

/** Two seconds of film: a long group of pictures, whole. */
export const SAMPLE_FRAMES = 50;
const LONGEST_MS = 120_000;
const MOST_WAITING = 60;
const CACHE_BYTES = 1024 ** 3;
const MOST_KNOWN = 1_000;

export interface Sample {
  readonly frames: number;
  readonly bytes: number;
  /** Of encoding alone, on this machine as it is just now. */
  readonly seconds: number;
}

/** What it cannot be made for, in a sentence. */
export class SampleFailure extends Problem {
  constructor(detail: string) {
    super('no-sample', detail);
  }
}

interface Made extends Sample {
  readonly path: string;
}

export class Samples {
  /** One at a time, so that none slows another down while it is timed. */
  private readonly queue = new PictureQueue<Made>(1, MOST_WAITING);
  private readonly pictures = new PictureQueue(1, MOST_WAITING);
  private readonly files: PictureCache;
  private readonly frames: PictureCache;
  private readonly known = new Map<string, Made>();

  constructor(folder: string, mostBytes = CACHE_BYTES) {
    this.files = new PictureCache(join(folder, 'files'), mostBytes, '.mov');
    this.frames = new PictureCache(join(folder, 'frames'), mostBytes, '.png');
  }

  /** `file`: of a sequence its first frame. Rejects with SampleFailure and TooManyPictures. */
  async measure(item: Item, file: string, recipe: Recipe, signal?: AbortSignal): Promise<Sample> {
    const { frames, bytes, seconds } = await this.made(item, file, recipe, signal);
    return { frames, bytes, seconds };
  }

  /** PNG of the picture in the middle of the sample; of the source itself where there is no recipe. */
  async picture(item: Item, file: string, recipe: Recipe | null, signal?: AbortSignal): Promise<Buffer> {
    const key = keyOf(item, recipe, 'picture');
    const known = await this.frames.get(key);
    if (known) return known;
    const { first, count } = pieceOf(item);
    const middle = Math.floor(count / 2);
    const input = recipe
      ? [...inputArguments((await this.made(item, file, recipe, signal)).path, 'mov'), '-vf', `select=eq(n\\,${middle})`]
      : sourcePicture(item, file, first + middle);
    const make = (gone: AbortSignal) => this.frames.put(key, (part) => run([...input, '-frames:v', '1', '-update', '1', '-f', 'image2', '-c:v', 'png', '-y', fileArgument(part)], gone)); // prettier-ignore
    const picture = await this.pictures.get(key, make, signal);
    if (!picture) throw new SampleFailure('Nothing of it can be shown.');
    return picture;
  }

  private async made(item: Item, file: string, recipe: Recipe, signal?: AbortSignal): Promise<Made> {
    const key = keyOf(item, recipe, 'file');
    const known = this.known.get(key);
    if (known && (await this.files.find(key))) return known;
    const made = await this.queue.get(key, (gone) => this.make(key, item, file, recipe, gone), signal);
    if (!made) throw new SampleFailure('Nothing of it can be encoded.');
    return made;
  }

  private async make(key: string, item: Item, file: string, recipe: Recipe, signal: AbortSignal): Promise<Made | null> {
    let seconds = 0;
    const path = await this.files.make(key, async (part) => {
      const begun = performance.now();
      const done = await run(sampleArguments(item, file, part, recipe), signal);
      seconds = (performance.now() - begun) / 1000;
      return done;
    });
    if (path === null) return null;
    const made = { path, frames: pieceOf(item).count, bytes: (await readFile(path)).length, seconds };
    if (this.known.size >= MOST_KNOWN) this.known.clear();
    this.known.set(key, made);
    return made;
  }
}

async function run(args: readonly string[], signal: AbortSignal): Promise<boolean> {
  const limits = { signal, timeLimitMs: LONGEST_MS, mostMemoryBytes: LOOK_MEMORY_BYTES, inBackground: true };
  const result = await runTool('ffmpeg', ['-max_pixels', String(MOST_PIXELS), ...args], limits);
  if (result.wasEnded) throw new TooManyPictures();
  if (result.exitCode === 0) return true;
  throw new SampleFailure(`It cannot be encoded: ${complaint(result.stderr).replace(/\.$/, '')}.`);
}

/** The middle of an item, as long as a sample is. */
function pieceOf({ facts }: Item): { readonly first: number; readonly count: number } {
  const length = facts.durationFrames ?? 1;
  const count = Math.min(SAMPLE_FRAMES, length);
  return { first: Math.floor((length - count) / 2), count };
}

function keyOf(item: Item, recipe: Recipe | null, what: string): string {
  const { burnIn: _burnIn, clipName: _clipName, ...own } = recipe ?? { burnIn: null, clipName: '' };
  return createHash('sha256').update(JSON.stringify(['sample 2', what, item.fingerprint, item.sizeBytes, item.modifiedMs, item.place, own])).digest('hex'); // prettier-ignore
}

function sampleArguments(item: Item, file: string, part: string, recipe: Recipe): string[] {
  const { facts } = item;
  const preset = presetOf(recipe.presetId);
  const { first, count } = pieceOf(item);
  return [
    ...pieceInput(item, file, first),
    ...['-map', '0:V:0', '-an', '-vf', pictureFilter(facts, { ...recipe, burnIn: null }, new Map()), '-fps_mode', 'passthrough'],
    ...['-frames:v', String(count), '-c:v', preset.encoder, ...optionsAt(preset, recipe.quality ?? 0), '-pix_fmt', preset.pixelFormat, ...(facts.video ? colourTags(facts.video) : [])], // prettier-ignore
    ...['-map_metadata', '-1', '-movflags', '+write_colr', '-f', 'mov', '-y', fileArgument(part)],
  ];
}

/** From a frame on. */
function pieceInput({ facts }: Item, file: string, first: number): string[] {
  const { sequence } = facts;
  if (!sequence) return ['-ss', `${frameToMicroseconds(first, facts.rate ?? rate(25))}us`, ...inputArguments(file, facts.container)];
  return sequenceArguments(dirname(file), sequence, facts.rate ?? rate(25), sequence.firstNumber + first);
}

function sourcePicture(item: Item, file: string, frame: number): string[] {
  const { sequence, container } = item.facts;
  if (!sequence) return pieceInput(item, file, frame);
  return pictureArguments(join(dirname(file), frameName(sequence, sequence.firstNumber + frame)), container);
}
