/** Whether an encoded file is of its source, frame for frame: counted, and its pictures compared at several points. */
import type { MediaFacts } from '../../core/media/item';
import { channels, misfits } from '../../core/rendition/fits';
import { presetOf } from '../../core/rendition/presets';
import { hasFewerChannels, type Recipe } from '../../core/rendition/recipe';
import { placeOf, soundAgainst, type PictureVerdict, type SmallPicture } from '../../core/rendition/look-alike';
import { framesToSeconds, frameToMicroseconds } from '../../core/time/convert';
import type { Rate } from '../../core/time/rate';
import { pictureFilter, sourceArguments, type EncodeSource } from './encode-arguments';
import { complaint, LOOK_ARGUMENTS, runTool } from './ffmpeg';
import { probeTimed } from './probe';
import { entryAt, leadsInto, pictureDelay } from './entry';
import { smallPictures, smallSize, soundEnvelopes, withoutLength, type PictureSource } from './small-pictures';

/** A file that is not what it should have become. */
export class RenditionUnproven extends Error {}

/** Structural similarity (SSIM) that even hard pictures keep; another frame, another picture or grey falls below. */
const LEAST_ALIKE = 0.6;
/** Letters in the picture take their part. */
const LEAST_ALIKE_BURNED = 0.4;
const POINTS = 5;

export interface ProvenRendition {
  readonly frames: number;
  /** The least SSIM of the pictures compared. */
  readonly alike: number;
}

/** Throws RenditionUnproven with what does not fit. */
export async function proveRendition(source: EncodeSource, part: string, recipe: Recipe, signal: AbortSignal): Promise<ProvenRendition> {
  const { facts, delay } = await probeTimed(part);
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
  const [own, made] = [await timed(source, signal), { path: part, facts, delay }];
  const ofAll = await similarityOfAll(source, made, recipe, frames, signal);
  const isProven = ofAll !== null && ofAll >= least;
  let alike = isProven ? ofAll : 1;
  const isSlate = (frame: number) => recipe.slates?.some(([first, last]) => frame >= first && frame <= last) ?? false;
  for (const frame of isProven ? [] : pointsOf(frames).filter((point) => !isSlate(point))) {
    if (signal.aborted) break;
    const found = await similarity(own, made, recipe, frame, signal);
    if (found < least) throw new RenditionUnproven(`frame ${frame} is not like that of its source (SSIM ${found.toFixed(2)})`);
    alike = Math.min(alike, found);
  }
  await mustBeInPlace(own, made, source.facts.rate ?? recipe.sequenceRate!, frames, signal, 'one', isSlate);
  if (!fewer) await mustSoundAlike(source, { path: part, facts }, signal);
  return { frames, alike };
}

/** How many frames of the source on either side of each are held against a picture. */
const NEAR = 2;
const MOST_COUNTED = 2000;
/** SSIM from which nothing else can be meant. */
const SURELY_ALIKE = 0.95;
/** Frames that are looked at beside one that seems to be of another place. */
const BESIDE = [-3, 3, -6, 6];
/** Where the five points tell nothing, so many are looked at beside them. */
const MORE_POINTS = 8;

/**
 * Each picture must fit best in its own place. Gives how many of them could be told from their neighbours at all; before that is
 * none it looks at more. Of what was encoded here `one` late one is enough: all frames were counted, and each point was compared.
 * Throws RenditionUnproven where one fits another frame, or none.
 */
async function mustBeInPlace(
  source: Timed,
  copy: Timed,
  rate: Rate,
  frames: number,
  signal: AbortSignal,
  enough: 'one' | 'all' = 'all',
  isCovered: (frame: number) => boolean = () => false,
): Promise<number> {
  // Frames that do not come evenly are found by counting: of a long file the first part is looked at.
  const isEven = source.facts.steadyRate !== false;
  const looked = isEven ? frames : Math.min(frames, MOST_COUNTED);
  const size = smallSize(uprightSize(copy.facts.video));
  const pictured = ({ delay, ...of }: Timed): PictureSource => ({ ...of, rate, size, delaySeconds: isEven ? delay : null });
  const [own, theirs] = [pictured(source), pictured(copy)];
  const all = isEven ? await allPictures(own, theirs, frames, signal) : null;
  const verdictOf = async (frame: number, isSure = false): Promise<PictureVerdict> => {
    const first = Math.max(0, frame - NEAR);
    const least = frame - first + 1;
    if (all) return placeOf(all.theirs[frame]!, all.own.slice(first, frame + NEAR + 1), frame - first);
    let around: SmallPicture[];
    let picture: SmallPicture | undefined;
    try {
      around = await smallPictures(own, { first, count: least + NEAR, least, isSure }, signal);
      [picture] = await smallPictures(theirs, { first: frame, count: 1, least: 1, isSure }, signal);
    } catch (error) {
      throw new RenditionUnproven(`frame ${frame} could not be compared: ${(error as Error).message}`);
    }
    if (!picture || !around[frame - first]) throw new RenditionUnproven(`frame ${frame} could not be compared: it was not decoded`);
    const verdict = placeOf(picture, around, frame - first);
    return !isSure && (verdict.is === 'elsewhere' || verdict.is === 'another') ? verdictOf(frame, true) : verdict;
  };
  let told = 0;
  const look = async (frame: number): Promise<void> => {
    const verdict = await verdictOf(frame);
    if (verdict.is === 'another') throw new RenditionUnproven(`frame ${frame} is not like that of its source`);
    if (verdict.is === 'here') told++;
    if (verdict.is !== 'elsewhere') return;
    // Hard compression may carry one frame over into the next: it is late where those beside it are as late.
    for (const beside of BESIDE.map((by) => frame + by).filter((other) => other >= 0 && other < looked && !isCovered(other))) {
      const other = await verdictOf(beside, true);
      if (other.is === 'elsewhere' && other.by === verdict.by)
        throw new RenditionUnproven(`frame ${frame} shows frame ${frame + verdict.by} of its source`);
    }
  };
  const points = pointsOf(looked);
  if (enough === 'one') {
    const [first, second, middle, late, last] = points;
    for (const frame of [late, middle, last, second, first])
      if (frame !== undefined && !isCovered(frame) && told === 0 && !signal.aborted) await look(frame);
    return told;
  }
  for (const frame of points) if (!signal.aborted) await look(frame);
  if (told === 0) for (const frame of pointsOf(looked, MORE_POINTS)) if (!signal.aborted && !points.includes(frame)) await look(frame);
  return told;
}

/** All pictures of both, one for one, where reading them from begin to end is sooner done than entering in several places; else null. */
async function allPictures(
  own: PictureSource,
  theirs: PictureSource,
  frames: number,
  signal: AbortSignal,
): Promise<{ readonly own: readonly SmallPicture[]; readonly theirs: readonly SmallPicture[] } | null> {
  if (!comeOneForOne(own.facts, frames)) return null;
  const read = async (of: PictureSource) =>
    await smallPictures({ ...of, delaySeconds: null }, { first: 0, count: frames, least: frames, isSure: true }, signal).catch(() => []);
  const [pictures, copies] = [await read(own), await read(theirs)];
  return pictures.length === frames && copies.length === frames ? { own: pictures, theirs: copies } : null;
}

/** Throws RenditionUnproven where a channel is another, or none, of the source's; what is silent tells nothing. */
async function mustSoundAlike(source: EncodeSource, copy: EncodeSource, signal: AbortSignal): Promise<void> {
  const { rate, durationFrames } = source.facts;
  if (rate === null || durationFrames === null || channels(source.facts) === 0 || channels(source.facts) !== channels(copy.facts)) return;
  const seconds = framesToSeconds(durationFrames, rate);
  let wrong: string | null;
  try {
    wrong = soundAgainst(await soundEnvelopes(source, seconds, signal), await soundEnvelopes(copy, seconds, signal));
  } catch (error) {
    throw new RenditionUnproven(`its sound could not be compared: ${(error as Error).message}`);
  }
  if (wrong !== null) throw new RenditionUnproven(wrong);
}

/** The first and the last frame, and some between. */
function pointsOf(frames: number, count = POINTS): number[] {
  return [...new Set(Array.from({ length: count }, (_, index) => Math.round((index * (frames - 1)) / (count - 1))))];
}

/**
 * How many pictures of a rendition made elsewhere were told to be those of its source, at their places. Throws RenditionUnproven
 * where one is nothing like the other, or shows another frame: they may differ in colours, and have letters in them.
 */
export async function compareFound(source: EncodeSource, found: EncodeSource, sequenceRate: Rate, signal: AbortSignal): Promise<number> {
  const { video, durationFrames } = found.facts;
  const recipe: Recipe = { presetId: 'pocket', ...uprightSize(video), sequenceRate, burnIn: null, clipName: '' };
  const [origin, copy] = [await timed(source, signal), await timed(found, signal)];
  const ofAll = await similarityOfAll(origin, copy, recipe, durationFrames ?? 1, signal);
  for (const frame of ofAll !== null && ofAll >= LEAST_ALIKE_BURNED ? [] : pointsOf(durationFrames ?? 1)) {
    if (signal.aborted) break;
    const own = await similarity(origin, copy, recipe, frame, signal);
    if (own < LEAST_ALIKE_BURNED) throw new RenditionUnproven(`frame ${frame} is not like that of its source (SSIM ${own.toFixed(2)})`);
  }
  const told = await mustBeInPlace(origin, copy, source.facts.rate ?? sequenceRate, durationFrames ?? 1, signal);
  await mustSoundAlike(source, found, signal);
  return told;
}

/** Even sides, as it is shown. */
function uprightSize(video: MediaFacts['video']): { width: number; height: number } {
  const { width = 2, height = 2, rotation = 0 } = video ?? {};
  const [across, down] = rotation % 180 === 0 ? [width, height] : [height, width];
  return { width: across + (across % 2), height: down + (down % 2) };
}

/** A file, and how long after its begin its pictures come. */
interface Timed extends EncodeSource {
  readonly delay: number;
}

async function timed(source: EncodeSource, signal: AbortSignal): Promise<Timed> {
  return { ...source, delay: await pictureDelay(source, signal) };
}

async function similarity(source: Timed, part: Timed, recipe: Recipe, frame: number, signal: AbortSignal): Promise<number> {
  let [reason, alike] = ['', -1];
  for (const lead of leadsInto(source)) {
    const found = await similarFrom(source, part, recipe, frame, lead, signal);
    reason = found.complained;
    alike = Math.max(alike, found.alike ?? -1);
    // Unlike what it should be it may be another picture: groups that lean on the one before are entered before them.
    if (alike >= SURELY_ALIKE || (found.alike !== null && lead > 0) || signal.aborted) break;
  }
  if (alike < 0) throw new RenditionUnproven(`frame ${frame} could not be compared: ${reason}`);
  return alike;
}

/** What is read from its begin to its end sooner than in several places. */
const FEW_FRAMES = 150;
const FEW_PIXELS = 60 * 1920 * 1080;

/** Whether the pictures of a file are few, and the one of each number is that frame. */
function comeOneForOne({ video, steadyRate, container, sequence }: MediaFacts, frames: number): boolean {
  const isFew = frames <= FEW_FRAMES && frames * (video?.width ?? 0) * (video?.height ?? 0) <= FEW_PIXELS;
  return isFew && steadyRate !== false && container !== 'avi' && (sequence?.missingRuns.length ?? 0) === 0;
}

/** The least SSIM of all frames, each against the one of its number; null where that takes long, or they do not come one for one. */
async function similarityOfAll(
  source: EncodeSource,
  part: EncodeSource,
  recipe: Recipe,
  frames: number,
  signal: AbortSignal,
): Promise<number | null> {
  if (!comeOneForOne(source.facts, frames) || recipe.slates) return null;
  const filter = comparison(source, recipe, '', 'settb=AVTB,setpts=N*40000');
  const args = [...LOOK_ARGUMENTS, ...withoutLength(sourceArguments(source, recipe)), ...withoutLength(sourceArguments(part, recipe)), '-filter_complex', filter, '-f', 'null', '-']; // prettier-ignore
  const { exitCode, stdout } = await runTool('ffmpeg', args, { signal, timeLimitMs: 600_000 });
  const found = [...stdout.matchAll(/All:([\d.]+)/g)].map(([, value]) => Number(value));
  return exitCode === 0 && found.length === frames ? Math.min(...found) : null;
}

/** Pictures of the source against those of the copy by SSIM. `from`: what is passed over first; `timing`: how both are laid side by side. */
function comparison(source: EncodeSource, recipe: Recipe, from: string, timing: string): string {
  const { slates: _slates, ...plain } = recipe;
  const clean: Recipe = { ...plain, burnIn: null };
  // SSIM is told of blocks of 8 × 8, of the colours too, which are halved here.
  const grown =
    Math.min(recipe.width, recipe.height) < 16 ? `scale=${Math.max(16, recipe.width)}:${Math.max(16, recipe.height)}:flags=neighbor,` : '';
  const same = `${grown}${timing},format=yuv420p`;
  return `[0:V:0]${from}${pictureFilter(source.facts, clean, new Map())},${same}[a];[1:V:0]scale=${recipe.width}:${recipe.height},${same}[b];[a][b]ssim=stats_file=-`;
}

/** `leadSeconds`: so much before the frame decoding of the source begins. */
async function similarFrom(
  source: Timed,
  part: Timed,
  recipe: Recipe,
  frame: number,
  leadSeconds: number,
  signal: AbortSignal,
): Promise<{ readonly alike: number | null; readonly complained: string }> {
  const rate = source.facts.rate ?? recipe.sequenceRate!;
  // Half a frame early: the first picture from there on is the one.
  const at = frame === 0 ? 0 : frameToMicroseconds(2 * frame - 1, { num: rate.num * 2, den: rate.den }) / 1e6;
  const [own, theirs] = [entryAt(source, at, frame === 0 ? 0 : source.delay, leadSeconds), at === 0 ? 0 : at + part.delay];
  const microseconds = (seconds: number) => `${Math.round(seconds * 1e6)}us`;
  const seek = (seconds: number) => (seconds > 0 ? ['-ss', microseconds(seconds)] : []);
  const from = own.skip > 0 ? `trim=start=${microseconds(own.skip)},` : '';
  const filter = comparison(source, recipe, from, 'setpts=PTS-STARTPTS,settb=AVTB');
  const args = [...LOOK_ARGUMENTS, ...seek(own.seek), ...withoutLength(sourceArguments(source, recipe)), ...seek(theirs), ...withoutLength(sourceArguments(part, recipe)), '-filter_complex', filter, '-frames:v', '1', '-f', 'null', '-']; // prettier-ignore
  const result = await runTool('ffmpeg', args, { signal, timeLimitMs: 600_000 });
  const found = result.exitCode === 0 ? /All:([\d.]+)/.exec(result.stdout) : null;
  return { alike: found ? Number(found[1]) : null, complained: complaint(result.stderr) };
}
