import type { CopyStep } from '../../../core/planning/plan/step';
import { fileName, type Place } from '../../../core/media/item';
import type { StepOutcome } from '../../catalogue/runs';
import { runCopy, runZip } from '../../workers/pool';
import { StepStopped } from '../explain-error';
import { enterChecksum, rotWordsOf } from '../checksums';
import { makeFile } from '../make-file';
import { checkPrecondition, checkUnchanged } from '../precondition';
import type { Executor, Source, StepContext } from '../step-context';

/** A whole file, or one out of a ZIP, hashed while it is written and read back. A file's times are kept. */
export const copyFile: Executor<CopyStep> = async (step, context) => {
  const path = context.places.resolve(step.from!);
  return makeFile(step.to!, step.expectedBytes, context, async (part) => {
    const source = { path, identity: await checkPrecondition(path, step.mustHold, fileName(step.from!.path)) };
    return step.entry ? unpackEntry(step.entry, source, step.from!, part, context) : copyAndEnter(source, step.from!, part, context);
  });
};

async function copyAndEnter(source: Source, from: Place, part: string, context: StepContext): Promise<StepOutcome> {
  const copied = await copyWhole(source, part, context);
  const was = copied.sha256 ? await enterChecksum(from, source.identity, copied.sha256, context) : null;
  return was ? { ...copied, checked: `${copied.checked}. ${rotWordsOf(from, was)}` } : copied;
}

/** A file as it is, byte for byte. Rejects with ECHANGED when it is not the one that was looked at, or changes meanwhile. */
export async function copyWhole({ path, identity }: Source, part: string, context: StepContext): Promise<StepOutcome> {
  const write = { source: path, segments: 'all' as const, keepTimes: true, mustBe: identity };
  const result = await runCopy({ write, target: part, control: context.control });
  if (result.stopped) throw new StepStopped();
  return { bytes: result.bytes, sha256: result.sha256, checked: 'read back, SHA-256 equal' };
}

async function unpackEntry(entry: string, { path, identity }: Source, from: Place, part: string, context: StepContext): Promise<StepOutcome> {
  const result = await runZip({ unpack: { source: path, entry }, target: part, control: context.control });
  if (result.stopped) throw new StepStopped();
  await checkUnchanged(path, identity, fileName(from.path));
  return { bytes: result.bytes, sha256: result.sha256, checked: 'CRC-32 of the bundle, read back' };
}
