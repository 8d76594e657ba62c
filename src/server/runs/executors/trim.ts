import { rm } from 'node:fs/promises';
import { cutWav } from '../../../core/media/riff';
import { fileName } from '../../../core/media/item';
import { frames } from '../../../core/time/range';
import type { TrimStep } from '../../../core/planning/plan/step';
import { floorToRate } from '../../../core/time/convert';
import type { StepOutcome } from '../../catalogue/runs';
import { decodedWords, decodeFrames } from '../../media/decode';
import { complaint, runTool } from '../../media/ffmpeg';
import { CutUnproven, provePart } from '../../media/packet-hashes';
import { soundHash } from '../../media/sound-hash';
import { trimArguments } from '../../media/trim-arguments';
import { readWavHeader } from '../../media/wav-file';
import { mustWait } from '../../workers/control';
import { runCopy } from '../../workers/pool';
import { StepStopped } from '../explain-error';
import { makeFile } from '../make-file';
import { checkPrecondition, checkUnchanged } from '../precondition';
import type { Executor, Source, StepContext } from '../step-context';
import { enterChecksum } from '../checksums';
import { copyWhole } from './copy';

/**
 * A part of a file, cut without re-encoding and proven against its source. What cannot be cut so is copied whole
 * instead, and says why: no run is stuck on one file.
 */
export const trimFile: Executor<TrimStep> = async (step, context) => {
  const path = context.places.resolve(step.from!);
  const name = fileName(step.from!.path);
  return makeFile(step.to!, step.expectedBytes, context, async (part) => {
    const source = { path, identity: await checkPrecondition(path, step.mustHold, name) };
    try {
      return await (step.facts.kind === 'audio' ? trimWav(step, source, part, context) : trimPicture(step, source, part, context));
    } catch (error) {
      if (!(error instanceof CutUnproven) || context.signal.aborted) throw error;
      // A source that changes is no cut that fails.
      await checkUnchanged(path, source.identity, name);
      await rm(part, { force: true });
      const damage = await damageMet(step, path, context);
      const whole = await copyWhole(source, part, context);
      if (whole.sha256) await enterChecksum(step.from!, source.identity, whole.sha256, context);
      const why = damage === null ? error.message : `it is damaged: ${damage}`;
      return {
        ...whole,
        whole: true,
        ...(damage === null ? {} : { damaged: damage }),
        checked: `copied whole, read back: it could not be cut (${why})`,
      };
    }
  });
};

/** Whether it could not be cut because frames of it do not decode; the stock knows it as damaged from then on. */
async function damageMet({ facts, range, from, usedBy = '' }: TrimStep, path: string, context: StepContext): Promise<string | null> {
  if (facts.kind !== 'video') return null;
  const done = await decodeFrames(path, facts, [range], {
    signal: context.signal,
    mustWait: () => mustWait(context.control),
    tell: () => undefined,
  });
  if (context.signal.aborted) throw new StepStopped();
  if (done.frames >= done.wanted) return null;
  const words = decodedWords(facts, done);
  await context.change(() => context.catalogue.items.markDamaged(from!, `${words}.`));
  return usedBy === '' ? words : `${words}; read by ${usedBy}`;
}

async function trimWav(step: TrimStep, source: Source, part: string, context: StepContext): Promise<StepOutcome> {
  const header = await readWavHeader(source.path);
  const segments = header && cutWav(header, step.range.start, step.range.end);
  if (!segments) throw new CutUnproven('it is no WAV file that holds these samples');
  const write = { source: source.path, segments, keepTimes: false, mustBe: source.identity };
  const result = await runCopy({ write, target: part, control: context.control });
  if (result.stopped) throw new StepStopped();
  return { bytes: result.bytes, sha256: result.sha256, checked: `${frames(step.range)} samples copied, read back` };
}

async function trimPicture(step: TrimStep, source: Source, part: string, context: StepContext): Promise<StepOutcome> {
  const { facts, range } = step;
  context.watch(part);
  const result = await runTool('ffmpeg', trimArguments(source.path, part, range, facts), {
    signal: context.signal,
    mustWait: () => mustWait(context.control),
  });
  context.watch(null);
  if (context.signal.aborted) throw new StepStopped();
  if (result.exitCode !== 0) {
    const reason = complaint(result.stderr);
    if (/No space left/i.test(reason)) throw Object.assign(new Error(reason), { code: 'ENOSPC' });
    if (/Input\/output error|No such file/i.test(reason)) throw Object.assign(new Error(reason), { code: 'EIO' });
    throw new CutUnproven(reason);
  }
  const proven = await provePart(source.path, part, facts.container, range, facts.rate!, context.signal);
  await proveSound(step, source.path, part, context.signal);
  if (context.signal.aborted) throw new StepStopped();
  await checkUnchanged(source.path, source.identity, fileName(step.from!.path));
  const back = await runCopy({ write: null, target: part, control: context.control });
  if (back.stopped) throw new StepStopped();
  return { bytes: back.bytes, sha256: back.sha256, checked: `${proven} frames equal to the source${facts.audio.length > 0 ? ', sound equal' : ''}` };
}

async function proveSound(step: TrimStep, source: string, part: string, signal: AbortSignal): Promise<void> {
  const { facts, range } = step;
  for (const [index, sound] of facts.audio.entries()) {
    const samples = { num: sound.sampleRate, den: 1 };
    const inSource = { start: floorToRate(range.start, facts.rate!, samples), end: floorToRate(range.end, facts.rate!, samples) };
    const expected = await soundHash(source, index, sound.codec, inSource, signal);
    if (expected !== (await soundHash(part, index, sound.codec, null, signal)))
      throw new CutUnproven(`the sound of the cut, track ${index + 1}, differs from the source`);
  }
}
