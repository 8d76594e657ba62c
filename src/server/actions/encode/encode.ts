/** A light copy or a mezzanine: encoded, proven against its source, entered into the stock, and linked beside the source. */
import { randomUUID } from 'node:crypto';
import { mkdtemp, rm, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { dirname, join } from 'node:path';
import { isUntouched, looksSame, unpackIdentity } from '../../../core/media/identity';
import { frameName, presentNumbers } from '../../../core/media/image-sequence';
import { below, fileName, folderOf, type Item } from '../../../core/media/item';
import type { EncodeStep } from '../../../core/planning/plan/step';
import { pixelsOf } from '../../../core/planning/proxies/pace';
import { madeIds, type RenditionsAway } from '../../../core/planning/proxies/rendition-changes';
import { expectedFrom } from '../../../core/project/clip';
import { presetOf, remainWords } from '../../../core/rendition/presets';
import { hasFewerChannels, type Made } from '../../../core/rendition/recipe';
import type { StepOutcome } from '../../catalogue/step-outcome';
import { installedEncoders } from '../../media/encoders';
import { burnTexts, encodeArguments, type EncodeSource } from '../../media/encode-arguments';
import { complaint, runTool } from '../../media/ffmpeg';
import { probeFacts } from '../../media/probe';
import { proveRendition, RenditionUnproven } from '../../media/prove-rendition';
import { fingerprintFile } from '../../stock/fingerprint-file';
import { identify, standingAt } from '../../stock/identify';
import { mustWait } from '../../threads/control';
import { runCopy } from '../../files/copy-files';
import { StepFailure, StepStopped } from '../../errors/explain-error';
import { withHeldFrames } from '../../media/held-frames';
import { makeFile } from '../made/make-file';
import { Stopwatch } from './stopwatch';
import { checkPrecondition, checkUnchanged, isSameSequence } from '../made/precondition';
import type { Executor, StepContext } from '../step-context';

export const encodeFile: Executor<EncodeStep> = async (step, context) => {
  // Nothing is learned of what an earlier try has made.
  let seconds = 0;
  const made = await makeFile(step.to!, 0, context, async (part) => {
    const watch = new Stopwatch();
    try {
      return await encode(step, part, context, watch);
    } finally {
      seconds = watch.stop();
    }
  });
  const item = await itemOf(step, made, context);
  const renditionIds = madeIds(step, context);
  await context.change(() => {
    link(step, item, renditionIds, context);
    context.catalogue.paces.learn(step.recipe.presetId, pixelsOf(step.facts, step.recipe), seconds);
  });
  const back: RenditionsAway = { type: 'renditions-away', renditionIds };
  return { ...made, back };
};

async function encode(step: EncodeStep, part: string, context: StepContext, watch: Stopwatch): Promise<StepOutcome> {
  const { facts } = step;
  const path = context.places.resolve(step.from!);
  const name = fileName(step.from!.path);
  const stands: EncodeSource = { path: facts.sequence ? dirname(path) : path, facts };
  const identity = facts.sequence ? null : await checkPrecondition(path, step.mustHold, name);
  const mustBeSame = async () => {
    if (identity) return checkUnchanged(path, identity, name);
    if (!(await areWanted(step, context))) throw new StepFailure(`${name} was changed after the plan was made. Look for changes on its shelf, then make a new plan.`); // prettier-ignore
  };
  await mustBeSame();
  const { source, close } = await withHeldFrames(stands);
  const texts = await mkdtemp(join(tmpdir(), 'mill-burn-'));
  try {
    return await encodeWhole(step, source, part, texts, mustBeSame, context, watch);
  } finally {
    await rm(texts, { recursive: true, force: true });
    await close();
  }
}

async function encodeWhole(
  step: EncodeStep,
  source: EncodeSource,
  part: string,
  texts: string,
  mustBeSame: () => Promise<void>,
  context: StepContext,
  watch: Stopwatch,
): Promise<StepOutcome> {
  const { facts, recipe } = step;
  try {
    const files = new Map<string, string>();
    for (const [line, text] of burnTexts(facts, recipe)) {
      const file = join(texts, `${line}.txt`);
      await writeFile(file, text);
      files.set(line, file);
    }
    context.watch(part);
    const result = await runTool('ffmpeg', encodeArguments(source, part, recipe, files), {
      signal: context.signal,
      // Whoever works at the machine comes first; a pause holds it in the middle of a picture.
      inBackground: true,
      mustWait: () => watch.holds(mustWait(context.control)),
    });
    if (context.signal.aborted) throw new StepStopped();
    if (result.exitCode !== 0) throw failureOf(complaint(result.stderr), step, await installedEncoders());
  } finally {
    context.watch(null);
  }
  try {
    const { frames, alike } = await proveRendition(source, part, recipe, context.signal);
    if (context.signal.aborted) throw new StepStopped();
    await mustBeSame();
    const back = await runCopy({ write: null, target: part, control: context.control });
    if (back.stopped) throw new StepStopped();
    const checked = `${frames} frames counted, pictures compared at five points (SSIM ${alike.toFixed(3)} or more), read back`;
    return { bytes: back.bytes, sha256: back.sha256, checked };
  } catch (error) {
    if (!(error instanceof RenditionUnproven)) throw error;
    // A source that went or was changed meanwhile is the better reason.
    await mustBeSame();
    throw new StepFailure(`${fileName(step.to!.path)} was made and thrown away: ${error.message}.`);
  }
}

/** Whether the frames of a sequence are those the plan saw; those that only look so are looked into by their fingerprint. */
async function areWanted({ from, facts, frames, mustHold }: EncodeStep, { places }: StepContext): Promise<boolean> {
  const sequence = facts.sequence!;
  const folder = { ...from!, path: folderOf(from!.path) };
  let isCertain = frames !== null;
  for (const [index, number] of presentNumbers(sequence).entries()) {
    const now = standingAt(places.resolve(below(folder, frameName(sequence, number))));
    const wanted = frames?.[index] === undefined ? null : unpackIdentity(frames[index]);
    if (!now || (wanted && !looksSame(now, wanted))) return false;
    isCertain &&= wanted !== null && isUntouched(now, wanted);
  }
  return isCertain || isSameSequence({ folder, facts: sequence, fingerprint: mustHold?.fingerprint ?? null }, places);
}

function failureOf(reason: string, { recipe }: EncodeStep, installed: ReadonlySet<string> | null): Error {
  if (/No space left/i.test(reason)) return Object.assign(new Error(reason), { code: 'ENOSPC' });
  if (/Input\/output error|No such file/i.test(reason)) return Object.assign(new Error(reason), { code: 'EIO' });
  const { encoder, name } = presetOf(recipe.presetId);
  if (/Unknown encoder/i.test(reason))
    return new StepFailure(`The ffmpeg of this machine has no ${encoder}, which ${name} needs. ${remainWords(presetOf(recipe.presetId), installed)}`);
  return new StepFailure(`It could not be encoded: ${reason}.`);
}

/** The new file as the stock knows it. */
async function itemOf({ to }: EncodeStep, made: StepOutcome, { places }: StepContext): Promise<Item> {
  const path = places.resolve(to!);
  const identity = made.identity ?? (await identify(path));
  return {
    id: randomUUID(),
    place: to!,
    sizeBytes: identity.sizeBytes,
    modifiedMs: Number(BigInt(identity.modifiedNs) / 1_000_000n),
    identity,
    fingerprint: await fingerprintFile(path, identity.sizeBytes),
    sha256: made.sha256 ?? null,
    facts: await probeFacts(path, null),
    problem: null,
  };
}

/** All of it or nothing. Clips that were taken out of the project meanwhile get none. */
function link(step: EncodeStep, item: Item, renditionIds: readonly string[], { catalogue, runId }: StepContext): void {
  const source = catalogue.items.at(step.from!);
  const made: Made = {
    presetId: step.recipe.presetId,
    burnIn: step.recipe.burnIn !== null,
    ...(hasFewerChannels(step.facts, step.recipe) ? { fewerChannels: true } : {}),
    sourcePrint: source?.fingerprint ?? step.mustHold?.fingerprint ?? null,
    at: new Date().toISOString(),
  };
  catalogue.transaction(() => {
    catalogue.items.put(item);
    if (item.sha256) catalogue.items.recordChecksum(item.place, item.identity!, item.sha256, made.at);
    step.clips.forEach(({ clipId, sound, part }, index) => {
      const picture = { place: item.place, url: '', expected: expectedFrom(item, fileName(item.place.path)) };
      // An earlier try may have linked it.
      catalogue.clips.removeRenditions([renditionIds[index]!]);
      const rendition = { id: renditionIds[index]!, kind: step.rendition, links: [picture, ...sound], made, cameBy: runId };
      if (part) catalogue.parts.addCopy(clipId, { ...rendition, ...part });
      else catalogue.clips.addRendition(clipId, rendition);
    });
  });
}
