import { dirname } from 'node:path';
import type { FileIdentity } from '../../../core/media/identity';
import { fileName, type Place } from '../../../core/media/item';
import type { CheckStep } from '../../../core/planning/plan/step';
import { decodedWords, decodeFrames } from '../../media/decode';
import { identify } from '../../stock/identify';
import { mustWait, setProgress } from '../../threads/control';
import { StepFailure, StepStopped } from '../../errors/explain-error';
import { checkPrecondition, checkUnchanged } from '../made/precondition';
import { runCopy } from '../../files/copy-files';
import { enterChecksum } from '../../stock/checksums';
import type { Executor, StepContext } from '../step-context';

/** Every frame that is wanted is decoded. One that does not come out fails the step, and the stock knows the file as damaged. */
export const decodeFile: Executor<CheckStep> = async (step, context) => {
  const { facts, ranges, content } = step.decode!;
  const name = fileName(step.from!.path);
  const path = context.places.resolve(step.from!);
  const before = facts.sequence ? null : await checkPrecondition(path, step.mustHold, name);
  const done = await decodeFrames(facts.sequence ? dirname(path) : path, facts, ranges, {
    signal: context.signal,
    mustWait: () => mustWait(context.control),
    tell: (frames) => setProgress(context.control, Math.round((2 * step.expectedBytes * frames) / Math.max(1, totalOf(ranges)))),
  });
  if (context.signal.aborted) throw new StepStopped();
  if (before) await checkUnchanged(path, before, name);
  const what = facts.kind === 'audio' ? 'samples' : facts.kind === 'still' ? 'picture' : 'frames';
  const counts = decodedWords(facts, done, what);
  if (done.frames < done.wanted) {
    const words = `${counts}${done.complaint === null ? '' : ` (${done.complaint})`}.`;
    await context.change(() => context.catalogue.items.markDamaged(step.from!, words));
    throw new StepFailure(`${name}: ${words} Look for another copy of it.`);
  }
  const at = new Date().toISOString();
  const known = content ?? (before && isAllOf(facts, ranges) ? await readWhole(step.from!, path, before, context) : null);
  if (known !== null) await context.change(() => context.catalogue.decoded.add(known, ranges, at));
  return {
    bytes: step.expectedBytes,
    identity: before ?? (facts.sequence ? null : await identify(path)),
    decoded: facts.kind === 'audio' ? 0 : done.frames,
    checked: counts,
  };
};

function isAllOf(
  { durationFrames, kind }: NonNullable<CheckStep['decode']>['facts'],
  ranges: readonly { readonly start: number; readonly end: number }[],
): boolean {
  return kind === 'still' || (durationFrames !== null && totalOf(ranges) >= durationFrames);
}

/** Every byte of a file that was decoded from end to end is read too: its copies are known by that. Gives its content; null where it cannot be entered. */
async function readWhole(from: Place, path: string, identity: FileIdentity, context: StepContext): Promise<string | null> {
  const read = await runCopy({ write: null, target: path, control: context.control });
  if (read.stopped) throw new StepStopped();
  await enterChecksum(from, identity, read.sha256, context);
  return context.catalogue.items.at(from)?.content ?? null;
}

function totalOf(ranges: readonly { readonly start: number; readonly end: number }[]): number {
  return ranges.reduce((sum, { start, end }) => sum + end - start, 0);
}
