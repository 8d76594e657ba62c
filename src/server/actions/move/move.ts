/** A move between two file systems: copied, read back, the catalogue follows, then the source goes. */
import { unlink } from 'node:fs/promises';
import { isUntouched, looksSame, unpackIdentity, type FileIdentity } from '../../../core/media/identity';
import { below, fileName } from '../../../core/media/item';
import type { FramesStep, MoveStep } from '../../../core/planning/plan/step';
import type { OutcomeFile, StepOutcome } from '../../catalogue/step-outcome';
import { identify, identityOfFrames, standingAt } from '../../stock/identify';
import { runCopy } from '../../files/copy-files';
import { StepFailure, StepStopped } from '../../errors/explain-error';
import { makeFile } from '../made/make-file';
import { follow, noteIdentity } from './move-files';
import { checkPrecondition } from '../made/precondition';
import type { Executor, StepContext } from '../step-context';
import { copyWhole } from '../copy/copy';
import { copyFrames } from '../frames/frames';
import { hashOf } from '../made/hash-of';

/** A source that was changed after it was copied stays, and is told of. */
export const moveFile: Executor<MoveStep> = async (step, context) => {
  const taken = step.settles ? await takenBack(step, context) : null;
  if (taken) return taken;
  if (step.leaveIfChanged && !context.pending && isAnother(step, context))
    return { bytes: 0, left: true, checked: 'left where it is: it was changed, moved or removed since' };
  const { made, sources } = step.frames ? await copyAllFrames(step, context) : await copyOne(step, context);
  await context.change(() =>
    context.catalogue.transaction(() => {
      follow(step, context.catalogue);
      noteIdentity(step, made, context.catalogue);
    }),
  );
  const stayed = await removeSources(sources, context);
  const checked =
    stayed === 0 ? `${made.checked}, then removed where it was` : `${made.checked}; it was changed meanwhile where it was, and stays there too`;
  return { ...made, checked };
};

interface CopiedSource {
  readonly path: string;
  readonly identity: FileIdentity;
  /** Checksum of the copy; undefined where none was taken. */
  readonly sha256: string | undefined;
}

/** Whether what is to be taken back is not what that move left. */
function isAnother({ frames, from, mustHold }: MoveStep, { places, catalogue, runId, ordinal }: StepContext): boolean {
  // Frames that this step has begun to carry are on their way.
  if (frames && catalogue.runs.frames(runId, ordinal).size > 0) return false;
  const wanted = frames ? (frames.holds?.map(unpackIdentity) ?? []) : mustHold?.identity ? [mustHold.identity] : [];
  return (frames?.names ?? ['']).some((name, index) => {
    const now = standingAt(places.resolve(below(from!, name)));
    return !now || (wanted[index] !== undefined && !looksSame(now, wanted[index]));
  });
}

async function copyOne(step: MoveStep, context: StepContext): Promise<{ made: StepOutcome; sources: CopiedSource[] }> {
  const path = context.places.resolve(step.from!);
  let source: CopiedSource | null = null;
  const made = await makeFile(step.to!, step.expectedBytes, context, async (part) => {
    source = { path, identity: await checkPrecondition(path, step.mustHold, fileName(step.from!.path)), sha256: undefined };
    const { lost: _lost, ...made } = await copyWhole(source, part, context);
    return made;
  });
  // An earlier try made the copy: the source may go only while it still is what was copied.
  return { made, sources: [source ?? (await sameAsCopy(path, made, context))].filter((entry) => entry !== null) };
}

/** Of a copy that an earlier try left: the source, if every byte of it still is the copy's. Null when it is gone. */
async function sameAsCopy(path: string, made: StepOutcome, context: StepContext): Promise<CopiedSource | null> {
  if (!standingAt(path)) return null;
  const identity = await identify(path);
  const read = await runCopy({ write: null, target: path, control: context.control });
  if (read.stopped) throw new StepStopped();
  if (read.sha256 !== made.sha256)
    throw new StepFailure(`${fileName(path)} was changed after it was copied. Both stay: look for changes on its shelf, then make a new plan.`);
  return { path, identity, sha256: made.sha256 };
}

async function copyAllFrames(step: MoveStep, context: StepContext): Promise<{ made: StepOutcome; sources: CopiedSource[] }> {
  const frames = step.frames!;
  const { phase, from, to, expectedBytes, bytesExact, reason, mustHold } = step;
  const copy: FramesStep = { action: 'frames', phase, from, to, expectedBytes, bytesExact, reason, mustHold, names: frames.names, asNames: frames.asNames, holds: frames.holds, sequence: frames.from }; // prettier-ignore
  const gone = frames.names.every((name) => !standingAt(context.places.resolve(below(from!, name))));
  const outcome = gone ? await framesThere(step, context) : await copyFrames(copy, context);
  const identities = (outcome.files ?? []).map(({ identity }) => identity!);
  const sources = gone
    ? []
    : frames.names.map((name, index) => ({
        path: context.places.resolve(below(from!, name)),
        identity: unpackIdentity(frames.holds?.[index] ?? ''),
        sha256: outcome.files?.[index]?.sha256,
      }));
  return { made: { ...outcome, identity: identityOfFrames(identities) }, sources };
}

/** All frames were copied and their sources removed before the process ended. */
async function framesThere(step: MoveStep, context: StepContext): Promise<StepOutcome> {
  const earlier = context.catalogue.runs.frames(context.runId, context.ordinal);
  const files: OutcomeFile[] = [];
  for (const name of step.frames!.asNames) {
    const known = earlier.get(name);
    if (!known)
      throw new StepFailure(
        `The frames of ${fileName(step.from!.path)} are not there any more. Look for changes on the shelf, then make a new plan.`,
      );
    files.push({ ...known, identity: await identify(context.places.resolve(below(step.to!, name))) });
  }
  return { bytes: files.reduce((sum, { bytes }) => sum + bytes, 0), files, checked: `${files.length} frames read back, SHA-256 equal` };
}

/** Removes what was copied, file by file, while it is untouched since, or else equal to its copy in every byte; gives how many stay. */
async function removeSources(sources: readonly CopiedSource[], context: StepContext): Promise<number> {
  let stayed = 0;
  for (const { path, identity, sha256 } of sources) {
    const now = standingAt(path);
    if (now === null) continue;
    const isCopied = isUntouched(now, identity) || (sha256 !== undefined && sha256 !== '' && (await hashOf(path, context)) === sha256);
    const still = isCopied ? standingAt(path) : null;
    if (still && isUntouched(still, now)) await unlink(path);
    else stayed++;
  }
  return stayed;
}

/** The undo of a move that stopped between copy and removal: the source stands there still, and the copy goes. */
async function takenBack(step: MoveStep, context: StepContext): Promise<StepOutcome | null> {
  if (step.frames) return null;
  const [copy, original] = [context.places.resolve(step.from!), context.places.resolve(step.to!)];
  if (!standingAt(original)) return null;
  const nothing = { bytes: 0, checked: 'stands where it was' };
  if (standingAt(copy)) {
    const [a, b] = [await hashOf(copy, context), await hashOf(original, context)];
    if (a !== b) return { bytes: 0, left: true, checked: 'left where it is: another file stands in its old place' };
  }
  await context.change(() => context.catalogue.transaction(() => follow(step, context.catalogue)));
  if (standingAt(copy)) await unlink(copy);
  return nothing;
}
