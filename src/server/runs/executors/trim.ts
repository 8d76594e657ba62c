import { cutWav } from '../../../core/media/riff';
import { fileName } from '../../../core/media/item';
import { frames } from '../../../core/time/range';
import type { TrimStep } from '../../../core/planning/plan';
import { floorToRate } from '../../../core/time/convert';
import type { StepOutcome } from '../../catalogue/runs';
import { complaint, startTool } from '../../media/ffmpeg';
import { provePart } from '../../media/packet-hashes';
import { soundHash } from '../../media/sound-hash';
import { trimArguments } from '../../media/trim-arguments';
import { readWavHeader } from '../../media/wav-file';
import { runCopy } from '../../workers/pool';
import { StepFailure, StepStopped } from '../explain-error';
import { checkPrecondition, makeFile, type Executor, type StepContext } from '../step-context';

/** A part of a file, cut without re-encoding and proven against its source. */
export const trimFile: Executor<TrimStep> = async (step, context) => {
  const source = context.mounts.resolve(step.from!);
  await checkPrecondition(source, step.mustHold, fileName(step.from!.path));
  return makeFile(step.to!, step.expectedBytes, context, (part) =>
    step.facts.kind === 'audio' ? trimWav(step, source, part, context) : trimPicture(step, source, part, context),
  );
};

async function trimWav(step: TrimStep, source: string, part: string, context: StepContext): Promise<StepOutcome> {
  const header = await readWavHeader(source);
  const segments = header && cutWav(header, step.range.start, step.range.end);
  if (!segments)
    throw new StepFailure(
      `${fileName(step.from!.path)} cannot be cut: it is no plain WAV file, or the part would be larger than 4 GB. Pull it whole.`,
    );
  const result = await runCopy({ write: { source, segments, keepTimes: false }, target: part, control: context.control });
  if (result.stopped) throw new StepStopped();
  return { bytes: result.bytes, sha256: result.sha256, checked: `${frames(step.range)} samples copied, read back` };
}

async function trimPicture(step: TrimStep, source: string, part: string, context: StepContext): Promise<StepOutcome> {
  const { facts, range } = step;
  context.watch(part);
  const result = await startTool('ffmpeg', trimArguments(source, part, range, facts), context.signal);
  context.watch(null);
  if (context.signal.aborted) throw new StepStopped();
  if (result.exitCode !== 0) {
    const reason = complaint(String(result.stderr ?? ''));
    if (/No space left/i.test(reason)) throw Object.assign(new Error(reason), { code: 'ENOSPC' });
    throw new StepFailure(`The cut failed: ${reason}. Pull this file whole instead.`);
  }
  const proven = await provePart(source, part, facts.container, range, facts.rate!, context.signal);
  await proveSound(step, source, part, context.signal);
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
      throw new StepFailure(`The sound of the cut (track ${index + 1}) differs from the source; the cut was thrown away.`);
  }
}
