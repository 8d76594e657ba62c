import { rm } from 'node:fs/promises';
import { isSameObject, isUntouched, looksSame, unpackIdentity, type FileIdentity } from '../../../core/media/identity';
import type { FramesStep } from '../../../core/planning/plan/step';
import { below, joinPath } from '../../../core/media/item';
import type { MadeFrame, OutcomeFile, StepOutcome } from '../../catalogue/step-outcome';
import { identify, standingAt } from '../../stock/identify';
import { StepFailure, StepStopped } from '../../errors/explain-error';
import { ensureFolder } from '../made/folders';
import { partPath } from '../../stock/part-name';
import { changedWhileRead, isSameSequence } from '../made/precondition';
import { publish } from '../made/safe-write';
import { twinFramePart } from '../made/twin-parts';
import type { Executor, StepContext } from '../step-context';
import { copyWhole, takeOver } from '../copy/copy';
import { plural } from '../../../core/words/figures';
import { hashOf } from '../made/hash-of';

/**
 * Numbered frames, each copied and read back. Each must be the one the plan saw, and is journalled before it gets its
 * name: what this run made is kept when it is resumed; an equal frame that was there before stays somebody else's.
 */
export const copyFrames: Executor<FramesStep> = async (step, context) => {
  const earlier = context.catalogue.runs.frames(context.runId, context.ordinal);
  const files: OutcomeFile[] = [];
  await ensureFolder(step.to!, context);
  const guarded = { folder: step.from!, facts: step.sequence, fingerprint: step.mustHold?.fingerprint ?? null };
  const restored = once(() => isSameSequence(guarded, context.places));
  const lost = new Set<string>();
  for (const [index, name] of step.names.entries()) {
    if (context.signal.aborted) throw new StepStopped();
    files.push(await copyFrame(step, index, earlier.get(step.asNames?.[index] ?? name) ?? null, restored, lost, context));
  }
  const there = files.filter((file) => file.wasThere).length;
  const made = [`${files.length - there} frames read back, SHA-256 equal`, ...lost].join('; ');
  return {
    bytes: files.reduce((sum, file) => sum + file.bytes, 0),
    files,
    checked: there === 0 ? made : `${made}; ${plural(there, 'was', 'were')} there already, compared`,
  };
};

/** Whether the frame is the one the plan saw. `restored`: whether a sequence that only looks the same is the same. */
async function isWanted(step: FramesStep, index: number, now: FileIdentity, restored: () => Promise<boolean>): Promise<boolean> {
  const packed = step.holds?.[index];
  if (packed === undefined) return true;
  const wanted = unpackIdentity(packed);
  return isUntouched(wanted, now) || (looksSame(wanted, now) && (await restored()));
}

function once<T>(ask: () => Promise<T>): () => Promise<T> {
  let answer: Promise<T> | null = null;
  return () => (answer ??= ask());
}

async function copyFrame(
  step: FramesStep,
  index: number,
  earlier: MadeFrame | null,
  restored: () => Promise<boolean>,
  lost: Set<string>,
  context: StepContext,
): Promise<OutcomeFile> {
  const name = step.asNames?.[index] ?? step.names[index]!;
  const path = context.places.resolve({ shelfId: step.from!.shelfId, path: joinPath(step.from!.path, step.names[index]!) });
  const place = below(step.to!, name);
  const target = context.places.resolve(place);
  const part = partPath(target, context);
  await rm(part, { force: true });
  let standing = standingAt(target);
  // Without hard links a name is claimed by an empty file: one of ours that a crash left is taken away.
  if (standing?.sizeBytes === 0 && earlier && earlier.bytes > 0) {
    await rm(target);
    standing = null;
  }
  if (standing && earlier && isSameObject(standing, earlier.identity)) {
    if (isUntouched(standing, earlier.identity) || (await hashOf(target, context)) === earlier.sha256) return { ...earlier, identity: standing };
    throw new StepFailure(`${name} was altered since this run made it. Nothing is overwritten: move it away, then resume.`);
  }
  const source = { path, identity: await identify(path) };
  if (!(await isWanted(step, index, source.identity, restored)))
    throw new StepFailure(`${name} was changed after the plan was made. Look for changes on its shelf, then make a new plan.`);
  if (standing) {
    const [before, now] = [await hashOf(target, context), await hashOf(path, context)];
    if (!isUntouched(await identify(path), source.identity)) throw new StepFailure(changedWhileRead(name));
    if (before !== now) throw Object.assign(new Error(target), { code: 'EEXIST' });
    return { name, bytes: standing.sizeBytes, sha256: before, identity: standing, wasThere: true };
  }
  try {
    const given = step.twin ? null : context.handed?.take(place);
    const second = step.twin
      ? { place: below(step.twin, name), part: await twinFramePart(step.twin, name, source.identity.sizeBytes, context) }
      : null;
    const copied: StepOutcome & { readonly lost?: string } = given ? await takeOver(given, part) : await copyWhole(source, part, context, second);
    if (copied.lost) lost.add(copied.lost);
    const { bytes, sha256 } = copied;
    const made = { name, bytes, sha256: sha256!, identity: await identify(part) };
    await context.madeFrame(made);
    try {
      await publish(part, target, () => Promise.resolve());
    } catch (error) {
      const left = standingAt(target);
      if (!left || !isSameObject(left, made.identity)) {
        await context.lostFrame(name);
        throw error;
      }
    }
    const named = { ...made, identity: await identify(target) };
    await context.madeFrame(named);
    return named;
  } finally {
    await rm(part, { force: true }).catch(() => undefined);
  }
}
