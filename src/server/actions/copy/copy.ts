import { rename } from 'node:fs/promises';
import type { CopyStep } from '../../../core/planning/plan/step';
import { isUntouched } from '../../../core/media/identity';
import { fileName, type Place } from '../../../core/media/item';
import { standingAt } from '../../stock/identify';
import type { StepOutcome } from '../../catalogue/step-outcome';
import { runCopy, runZip } from '../../files/copy-files';
import { StepFailure, StepStopped } from '../../errors/explain-error';
import { enterChecksum, rotWordsOf } from '../../stock/checksums';
import type { ReadBack } from '../made/handed';
import { keepAttributes } from '../made/keep-attributes';
import { makeFile } from '../made/make-file';
import { twinPart } from '../made/twin-parts';
import { changedWhileRead, checkPrecondition, checkUnchanged } from '../made/precondition';
import type { Executor, Source, StepContext } from '../step-context';

/** A whole file, or one out of a ZIP, hashed while it is written and read back. A file's times are kept. */
export const copyFile: Executor<CopyStep> = async (step, context) => {
  const path = context.places.resolve(step.from!);
  const there = step.orEqual ? await leaveEqual(step, path, context) : null;
  if (there) return there;
  const handed = step.twin ? null : context.handed;
  // What was handed over has its room already.
  const needs = handed?.has(step.to!) ? 0 : step.expectedBytes;
  return makeFile(step.to!, needs, context, async (part) => {
    const given = handed?.take(step.to!);
    if (given) return takeOver(given, part);
    const source = { path, identity: await checkPrecondition(path, step.mustHold, fileName(step.from!.path)) };
    return step.entry ? unpackEntry(step.entry, source, step.from!, part, context) : copyAndEnter(source, step, part, context);
  });
};

/** What stands there and is the file already; null where nothing stands there, or what an earlier try of this step made. Throws for another. */
async function leaveEqual(step: CopyStep, path: string, context: StepContext): Promise<StepOutcome | null> {
  const target = context.places.resolve(step.to!);
  const standing = standingAt(target);
  if (!standing || context.pending) return null;
  const source = await checkPrecondition(path, step.mustHold, fileName(step.from!.path));
  const [own, other] = [await readWhole(path, context), await readWhole(target, context)];
  await checkUnchanged(path, source, fileName(step.from!.path));
  const still = standingAt(target);
  if (!still || !isUntouched(still, standing)) throw new StepFailure(changedWhileRead(fileName(target)));
  await enterChecksum(step.from!, source, own.sha256, context);
  await enterChecksum(step.to!, standing, other.sha256, context);
  if (own.sha256 !== other.sha256)
    throw new StepFailure(
      `Another file of this name and size stands there, and it is not the same. Nothing was overwritten: make a new plan, and it gets a name of its own.`,
    );
  return { bytes: own.bytes, sha256: own.sha256, identity: standing, wasThere: true, checked: 'was there already, SHA-256 equal' };
}

async function readWhole(path: string, context: StepContext): Promise<{ bytes: number; sha256: string }> {
  const read = await runCopy({ write: null, target: path, control: context.control });
  if (read.stopped) throw new StepStopped();
  return read;
}

async function copyAndEnter(source: Source, { from: at, twin, expectedBytes }: CopyStep, part: string, context: StepContext): Promise<StepOutcome> {
  const from = at!;
  const second = twin ? { place: twin, part: await twinPart(twin, expectedBytes, context) } : null;
  const copied = await copyWhole(source, part, context, second);
  const was = copied.sha256 ? await enterChecksum(from, source.identity, copied.sha256, context) : null;
  const { lost: _lost, ...outcome } = copied;
  return was ? { ...outcome, checked: `${copied.checked}. ${rotWordsOf(from, was)}` } : outcome;
}

/** A second file of the same read; no part where it cannot be written now. */
export interface SecondCopy {
  readonly place: Place;
  readonly part: string | null;
}

/** What the step before read and wrote for this one, and read back. */
export async function takeOver({ part: written, bytes, sha256 }: ReadBack, part: string): Promise<StepOutcome> {
  await rename(written, part);
  return { bytes, sha256, checked: 'read back, SHA-256 equal; from the same read as the first copy' };
}

export interface Copied extends StepOutcome {
  readonly sha256: string;
  /** What the file system of the copy does not hold of it, in words. */
  readonly lost?: string;
}

/** A file as it is, byte for byte and with what it has beside its bytes. Rejects with ECHANGED when it is not the one that was looked at, or changes meanwhile. */
export async function copyWhole({ path, identity }: Source, part: string, context: StepContext, second: SecondCopy | null = null): Promise<Copied> {
  const write = { source: path, segments: 'all' as const, keepTimes: true, mustBe: identity, twin: second?.part ?? null };
  const result = await runCopy({ write, target: part, control: context.control });
  if (result.stopped) throw new StepStopped();
  const lost = await keepAttributes(path, part);
  if (result.twinMade && second?.part) {
    await keepAttributes(path, second.part).catch(() => undefined);
    context.handed?.give(second.place, { part: second.part, bytes: result.bytes, sha256: result.sha256 });
  }
  const checked = 'read back, SHA-256 equal';
  return { bytes: result.bytes, sha256: result.sha256, checked: lost === null ? checked : `${checked}; ${lost}`, ...(lost === null ? {} : { lost }) };
}

async function unpackEntry(entry: string, { path, identity }: Source, from: Place, part: string, context: StepContext): Promise<StepOutcome> {
  const result = await runZip({ unpack: { source: path, entry }, target: part, control: context.control });
  if (result.stopped) throw new StepStopped();
  await checkUnchanged(path, identity, fileName(from.path));
  return { bytes: result.bytes, sha256: result.sha256, checked: 'CRC-32 of the bundle, read back' };
}
