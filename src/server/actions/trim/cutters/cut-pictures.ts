/** A cut of moving pictures by ffmpeg, proven packet by packet, and its sound sample by sample. */
import { isAlwaysIntra } from '../../../../core/media/codec-traits';
import type { MediaFacts } from '../../../../core/media/item';
import { floorToRate } from '../../../../core/time/convert';
import { StepStopped } from '../../../errors/explain-error';
import { runCopy } from '../../../files/copy-files';
import { complaint, inputArguments, runTool } from '../../../media/ffmpeg';
import { mustWait } from '../../../threads/control';
import { CutUnproven, type Cut, type CutJob } from './cutter';
import { provePart } from './packet-hashes';
import { soundHash } from './sound-hash';

/** `plain`: what a reader is told so that packets come as they stand. */
export async function cutPictures(job: CutJob, args: readonly string[], plain: readonly string[]): Promise<Cut> {
  const { source, part, facts, range, control, signal, watch } = job;
  watch(part);
  const result = await runTool('ffmpeg', args, { signal, mustWait: () => mustWait(control) });
  watch(null);
  if (signal.aborted) throw new StepStopped();
  if (result.exitCode !== 0) {
    const reason = complaint(result.stderr);
    if (/No space left/i.test(reason)) throw Object.assign(new Error(reason), { code: 'ENOSPC' });
    if (/Input\/output error|No such file/i.test(reason)) throw Object.assign(new Error(reason), { code: 'EIO' });
    throw new CutUnproven(reason);
  }
  const proven = await provePart(source, part, { container: facts.container, plain }, range, facts.rate!, signal);
  if (facts.video && !isAlwaysIntra(facts.video)) await proveStandAlone(part, facts, signal);
  await proveSound(job);
  if (signal.aborted) throw new StepStopped();
  const back = await runCopy({ write: null, target: part, control });
  if (back.stopped) throw new StepStopped();
  return { bytes: back.bytes, sha256: back.sha256, checked: `${proven} frames equal to the source${facts.audio.length > 0 ? ', sound equal' : ''}` };
}

/** Frames that need others do not come out of a cut as they were, though their packets are the same. */
async function proveStandAlone(part: string, { container }: MediaFacts, signal: AbortSignal): Promise<void> {
  const show = ['-select_streams', 'V:0', '-show_entries', 'frame=pict_type', '-of', 'csv=p=0', ...inputArguments(part, container)];
  const { stdout, exitCode } = await runTool('ffprobe', show, { signal });
  if (signal.aborted) throw new StepStopped();
  const types = stdout.split('\n').filter((line) => line !== '');
  const other = types.findIndex((type) => !type.startsWith('I'));
  if (exitCode !== 0 || types.length === 0) throw new CutUnproven('its frames could not be decoded');
  if (other >= 0) throw new CutUnproven(`frame ${other} of the cut needs other frames`);
}

async function proveSound({ facts, range, source, part, signal }: CutJob): Promise<void> {
  for (const [index, sound] of facts.audio.entries()) {
    const samples = { num: sound.sampleRate, den: 1 };
    const inSource = { start: floorToRate(range.start, facts.rate!, samples), end: floorToRate(range.end, facts.rate!, samples) };
    const expected = await soundHash(source, index, sound.codec, inSource, signal);
    if (expected !== (await soundHash(part, index, sound.codec, null, signal)))
      throw new CutUnproven(`the sound of the cut, track ${index + 1}, differs from the source`);
  }
}
