/** Whether an encoded file is of its source, frame for frame: counted, and its pictures compared at several points. */
import type { MediaFacts } from '../../core/media/item';
import { channels, misfits } from '../../core/rendition/fits';
import { presetOf } from '../../core/rendition/presets';
import { hasFewerChannels, type Recipe } from '../../core/rendition/recipe';
import { frameToMicroseconds } from '../../core/time/convert';
import type { Rate } from '../../core/time/rate';
import { pictureFilter, sourceArguments, type EncodeSource } from './encode-arguments';
import { complaint, LOOK_ARGUMENTS, runTool } from './ffmpeg';
import { probeFacts } from './probe';

/** A file that is not what it should have become. */
export class RenditionUnproven extends Error {}

/** Structural similarity (SSIM) that even hard pictures keep; another frame, another picture or grey falls below. */
const LEAST_ALIKE = 0.6;
/** Letters in the picture take their part. */
const LEAST_ALIKE_BURNED = 0.4;
const POINTS = 5;

export interface Proven {
  readonly frames: number;
  /** The least SSIM of the pictures compared. */
  readonly alike: number;
}

/** Throws RenditionUnproven with what does not fit. */
export async function proveRendition(source: EncodeSource, part: string, recipe: Recipe, signal: AbortSignal): Promise<Proven> {
  const facts = await probeFacts(part, null);
  const fewer = hasFewerChannels(source.facts, recipe);
  const wrong = misfits(source.facts, facts, fewer ? 'fewer channels' : 'own');
  if (fewer && channels(facts) !== 2) wrong.push(`${channels(facts)} channels instead of 2`);
  if (wrong.length > 0) throw new RenditionUnproven(`it does not fit its source: ${wrong.join(', ')}`);
  const preset = presetOf(recipe.presetId);
  const { video } = facts;
  if (!video || video.codec !== preset.codec) throw new RenditionUnproven(`it is no ${preset.name}: ${video?.codec ?? 'no picture'}`);
  if (video.width !== recipe.width || video.height !== recipe.height)
    throw new RenditionUnproven(`it is ${video.width} × ${video.height} instead of ${recipe.width} × ${recipe.height}`);
  if (preset.alpha && !video.alpha) throw new RenditionUnproven('its alpha was lost');
  if (video.bitDepth < Math.min(preset.bitDepth, 10)) throw new RenditionUnproven(`it has ${video.bitDepth} bits instead of ${preset.bitDepth}`);
  const frames = facts.durationFrames ?? 0;
  const least = recipe.burnIn ? LEAST_ALIKE_BURNED : LEAST_ALIKE;
  let alike = 1;
  for (const frame of pointsOf(frames)) {
    if (signal.aborted) break;
    const found = await similarity(source, { path: part, facts }, recipe, frame, signal);
    if (found < least) throw new RenditionUnproven(`frame ${frame} is not like that of its source (SSIM ${found.toFixed(2)})`);
    alike = Math.min(alike, found);
  }
  return { frames, alike };
}

/** The first and the last frame, and some between. */
function pointsOf(frames: number): number[] {
  return [...new Set(Array.from({ length: POINTS }, (_, index) => Math.round((index * (frames - 1)) / (POINTS - 1))))];
}

/**
 * The least SSIM of five pictures of a rendition made elsewhere and of its source. Throws RenditionUnproven where one is
 * nothing like the other: they may differ in colours, and have letters in them.
 */
export async function compareFound(source: EncodeSource, found: EncodeSource, sequenceRate: Rate, signal: AbortSignal): Promise<number> {
  const { video, durationFrames } = found.facts;
  const recipe: Recipe = { presetId: 'pocket', ...uprightSize(video), sequenceRate, burnIn: null, clipName: '' };
  let alike = 1;
  for (const frame of pointsOf(durationFrames ?? 1)) {
    if (signal.aborted) break;
    const own = await similarity(source, found, recipe, frame, signal);
    if (own < LEAST_ALIKE_BURNED) throw new RenditionUnproven(`frame ${frame} is not like that of its source (SSIM ${own.toFixed(2)})`);
    alike = Math.min(alike, own);
  }
  return alike;
}

/** Even sides, as it is shown. */
function uprightSize(video: MediaFacts['video']): { width: number; height: number } {
  const { width = 2, height = 2, rotation = 0 } = video ?? {};
  const [across, down] = rotation % 180 === 0 ? [width, height] : [height, width];
  return { width: across + (across % 2), height: down + (down % 2) };
}

async function similarity(source: EncodeSource, part: EncodeSource, recipe: Recipe, frame: number, signal: AbortSignal): Promise<number> {
  const rate = source.facts.rate ?? recipe.sequenceRate!;
  // Half a frame early: the first picture from there on is the one.
  const at = ['-ss', `${Math.max(0, frameToMicroseconds(2 * frame - 1, { num: rate.num * 2, den: rate.den }))}us`];
  const clean = { ...recipe, burnIn: null };
  // SSIM is told of blocks of 8 × 8, of the colours too, which are halved here.
  const grown =
    Math.min(recipe.width, recipe.height) < 16 ? `scale=${Math.max(16, recipe.width)}:${Math.max(16, recipe.height)}:flags=neighbor,` : '';
  const same = `${grown}setpts=PTS-STARTPTS,settb=AVTB,format=yuv420p`;
  const filter = `[0:V:0]${pictureFilter(source.facts, clean, new Map())},${same}[a];[1:V:0]scale=${recipe.width}:${recipe.height},${same}[b];[a][b]ssim=stats_file=-`;
  const args = [...LOOK_ARGUMENTS, ...at, ...withoutLength(sourceArguments(source, recipe)), ...at, ...withoutLength(sourceArguments(part, recipe)), '-filter_complex', filter, '-frames:v', '1', '-f', 'null', '-']; // prettier-ignore
  const result = await runTool('ffmpeg', args, { signal, timeLimitMs: 600_000 });
  const found = /All:([\d.]+)/.exec(result.stdout);
  if (result.exitCode !== 0 || !found) throw new RenditionUnproven(`frame ${frame} could not be compared: ${complaint(result.stderr)}`);
  return Number(found[1]);
}

/** What limits the output of the encoding does not belong to one of two inputs. */
function withoutLength(args: readonly string[]): string[] {
  const at = args.indexOf('-frames:v');
  return at < 0 ? [...args] : args.filter((_, index) => index !== at && index !== at + 1);
}
