/**
 * Moves within a file system, many at a time. Each file gets its new name beside the old one, then the catalogue follows
 * for all of them in one transaction, then the old names go: whenever the process ends, every file stands where the
 * catalogue says. What an earlier try left is taken up where it stopped. Where a file system has no hard links the new
 * name is claimed and the file renamed over the claim; recovery brings the catalogue after it before anyone asks.
 */
import { closeSync, fsyncSync, linkSync, lstatSync, mkdirSync, openSync, renameSync, unlinkSync, type BigIntStats } from 'node:fs';
import { dirname, join } from 'node:path';
import { isSameObject, looksSame, packIdentity, unpackIdentity, type FileIdentity } from '../../../core/media/identity';
import { folderOf, joinPath, type Place } from '../../../core/media/item';
import { movedItem, type MoveStep } from '../../../core/planning/plan/step';
import type { Catalogue } from '../../catalogue/catalogue';
import type { StepRow } from '../../catalogue/runs';
import type { Pending, StepOutcome } from '../../catalogue/step-outcome';
import { identityOf, identityOfFrames } from '../../stock/identify';
import type { Places } from '../../stock/mounts';
import { explainError, StepFailure } from '../../errors/explain-error';
import { grownFolders } from './grown-folders';
import { partName } from '../../stock/part-name';
import { missingFolders, NO_LINKS } from '../made/folders';
import { foldPath } from '../../../core/naming/fold-path';

export interface MoveContext {
  readonly catalogue: Catalogue;
  readonly places: Pick<Places, 'resolve' | 'volumeOf'>;
  readonly runId: number;
}

/** One name to another. `done`: the file bears the new one alone. */
interface Pair {
  readonly from: string;
  readonly to: string;
  readonly wanted: FileIdentity | null;
  state: 'waiting' | 'linked' | 'done';
}

interface Job {
  readonly row: StepRow;
  readonly step: MoveStep;
  readonly pairs: readonly Pair[];
  /** Why it cannot be done, or that it must be copied; null while it goes well. */
  stopped: StepFailure | 'copy' | 'left' | null;
  outcome: StepOutcome | null;
}

/** Moves what it can and journals what became of each; gives the ordinals of those that must be copied. */
export function moveFiles(
  rows: readonly StepRow[],
  context: MoveContext,
  proven: ReadonlyMap<number, readonly FileIdentity[]> = new Map(),
): number[] {
  const { catalogue, runId } = context;
  const grown = grownFolders(rows, context);
  const jobs = rows.map((row) => jobOf(row, context, proven.get(row.ordinal) ?? null));
  for (const job of jobs) job.stopped ??= grown(job.step);
  for (const job of jobs) attempt(job, () => lookAtPairs(job, context));
  const now = new Date().toISOString();
  // A file that is moved again and again has no work left in the middle.
  const begun = jobs.filter(({ stopped }) => stopped === null);
  catalogue.transaction(() => {
    for (const { row, step, pairs } of begun) {
      catalogue.runs.begin(runId, row.ordinal, now);
      const files = pairs.map(({ from, wanted }) => ({ name: nameOf(from), bytes: 0, sha256: '', identity: wanted }));
      const pending: Pending = { bytes: step.expectedBytes, checked: 'begun', ...(step.frames ? { files } : { identity: pairs[0]!.wanted }) };
      catalogue.runs.setPending(runId, row.ordinal, pending);
    }
  });
  const touched = new Set<string>();
  const isApart = apartIn(context);
  for (const job of begun) attempt(job, () => giveNames(job, context, isApart, touched));
  flushFolders(touched);
  const named = begun.filter(({ stopped }) => stopped === null);
  catalogue.transaction(() => named.forEach(({ step }) => follow(step, catalogue)));
  touched.clear();
  for (const job of named) attempt(job, () => takeOldNames(job, touched));
  flushFolders(touched);
  for (const job of named) if (job.stopped === null) attempt(job, () => (job.outcome = outcomeOf(job)));
  catalogue.transaction(() => jobs.forEach((job) => journalEnd(job, context)));
  return jobs.filter(({ stopped }) => stopped === 'copy').map(({ row }) => row.ordinal);
}

/** The catalogue after a file that bears its new name. */
export function follow(step: MoveStep, catalogue: Catalogue): void {
  catalogue.moves.move(movedItem(step, 'from'), movedItem(step, 'to'), step.frames?.to ?? null, step.originalAfter);
}

function attempt(job: Job, work: () => void): void {
  try {
    work();
  } catch (error) {
    job.stopped = error instanceof StepFailure ? error : new StepFailure(explainError(error));
  }
}

function jobOf(row: StepRow, context: MoveContext, proven: readonly FileIdentity[] | null): Job {
  const step = row.step as MoveStep;
  // A copy of an earlier try is gone on with.
  const copied = row.pending?.sha256 !== undefined || (step.frames && context.catalogue.runs.frames(context.runId, row.ordinal).size > 0);
  const job: Job = { row, step, pairs: [], stopped: copied ? 'copy' : null, outcome: null };
  if (copied) return job;
  try {
    // The identities journalled when the move began, or else those that were proven.
    const begun = row.pending?.files?.map(({ identity }) => identity ?? null) ?? (row.pending?.identity ? [row.pending.identity] : null);
    const known = begun ?? proven;
    return { ...job, pairs: pairsOf(step, context).map((pair, index) => ({ ...pair, wanted: known?.[index] ?? pair.wanted })) };
  } catch (error) {
    job.stopped = new StepFailure(explainError(error));
    return job;
  }
}

function pairsOf(step: MoveStep, { places }: MoveContext): Pair[] {
  const { frames } = step;
  const at = (place: Place, name: string) => places.resolve({ shelfId: place.shelfId, path: joinPath(place.path, name) });
  if (!frames) return [{ from: places.resolve(step.from!), to: places.resolve(step.to!), wanted: step.mustHold?.identity ?? null, state: 'waiting' }];
  return frames.names.map((name, index) => ({
    from: at(step.from!, name),
    to: at(step.to!, frames.asNames[index]!),
    wanted: frames.holds?.[index] === undefined ? null : unpackIdentity(frames.holds[index]),
    state: 'waiting',
  }));
}

function standing(path: string): BigIntStats | null {
  return lstatSync(path, { bigint: true, throwIfNoEntry: false }) ?? null;
}

function isSameFile(a: BigIntStats, b: BigIntStats): boolean {
  return a.ino === b.ino && a.dev === b.dev;
}

/** Whether two paths differ only in how their letters are written. */
function isRewritten(from: string, to: string): boolean {
  return from !== to && foldPath(from) === foldPath(to);
}

/** Tells what is still to be done of each pair. Throws StepFailure where it is not what the plan saw. */
function lookAtPairs(job: Job, context: MoveContext): void {
  const mayBeBegun = job.row.pending !== null || job.step.settles === true;
  for (const pair of job.pairs) {
    if (mayBeBegun) clearMiddle(pair, job, context);
    const [source, target] = [standing(pair.from), standing(pair.to)];
    // A copy and what it was made of, both there.
    if (job.step.settles && source !== null && target !== null && !isSameFile(source, target)) {
      job.stopped = 'copy';
      return;
    }
    if (source === null && target !== null && mayBeBegun && isWanted(pair, target)) pair.state = 'done';
    else if (source === null) return leaveOr(job, `${nameOf(pair.from)} is not there any more. Look for changes on its shelf, then make a new plan.`);
    else if (!source.isFile())
      return leaveOr(job, `${nameOf(pair.from)} is no plain file any more. Look for changes on its shelf, then make a new plan.`);
    else if (!isWanted(pair, source)) {
      leaveOr(job, `${nameOf(pair.from)} was changed after the plan was made. Look for changes on its shelf, then make a new plan.`);
      return;
    } else if (target !== null && !isSameFile(source, target)) throw Object.assign(new Error(pair.to), { code: 'EEXIST' });
    else if (target !== null && !isRewritten(pair.from, pair.to) && !mayBeBegun) throw Object.assign(new Error(pair.to), { code: 'EEXIST' });
    else if (target !== null && !isRewritten(pair.from, pair.to)) pair.state = 'linked';
  }
}

/** What an end of the process left of one rename: a claimed name without its file, or a file between two ways of writing its name. */
function clearMiddle({ from, to }: Pair, job: Job, context: MoveContext): void {
  const [source, target] = [standing(from), standing(to)];
  if (source !== null && target !== null && !isSameFile(source, target) && target.size === 0n && source.size > 0n) unlinkSync(to);
  if (source !== null || target !== null || !isRewritten(from, to)) return;
  const between = betweenPath(from, job, context);
  if (standing(between) !== null) renameSync(between, from);
}

function betweenPath(from: string, job: Job, { catalogue, runId }: MoveContext): string {
  return join(dirname(from), partName(catalogue.id, runId, job.row.ordinal));
}

/** An undo leaves what is another by now where it is; everything else fails. */
function leaveOr(job: Job, message: string): void {
  if (job.step.leaveIfChanged) job.stopped = 'left';
  else throw new StepFailure(message);
}

function isWanted({ wanted }: Pair, found: BigIntStats): boolean {
  if (wanted === null) return true;
  const now = identityOf(found);
  return looksSame(now, wanted) && isSameObject(now, wanted);
}

function nameOf(path: string): string {
  return path.slice(path.lastIndexOf('/') + 1);
}

/** Whether the two shelves of a move are on two file systems. */
function apartIn({ places }: MoveContext): (step: MoveStep) => boolean {
  const known = new Map<string, string | null>();
  const volumeOf = (shelfId: string) => {
    const own = known.has(shelfId) ? known.get(shelfId)! : places.volumeOf(shelfId);
    known.set(shelfId, own);
    return own;
  };
  return ({ from, to }) => from!.shelfId !== to!.shelfId && volumeOf(from!.shelfId) !== volumeOf(to!.shelfId);
}

function giveNames(job: Job, context: MoveContext, isApart: (step: MoveStep) => boolean, touched: Set<string>): void {
  if (isApart(job.step) && job.pairs.every(({ state }) => state === 'waiting')) {
    job.stopped = 'copy';
    return;
  }
  makeFolder(job.step.frames ? job.step.to! : { ...job.step.to!, path: folderOf(job.step.to!.path) }, context, touched);
  try {
    for (const pair of job.pairs) {
      if (pair.state !== 'waiting') continue;
      touched.add(dirname(pair.to));
      if (isRewritten(pair.from, pair.to)) rewrite(pair, job, context);
      else giveName(pair);
    }
  } catch (error) {
    takeBack(job);
    if ((error as NodeJS.ErrnoException).code !== 'EXDEV') throw error;
    job.stopped = 'copy';
  }
}

function giveName(pair: Pair): void {
  try {
    linkSync(pair.from, pair.to);
    pair.state = 'linked';
  } catch (error) {
    if (!NO_LINKS.has((error as NodeJS.ErrnoException).code ?? '')) throw error;
    // Nobody else gets the name between the claim and the file.
    closeSync(openSync(pair.to, 'wx'));
    try {
      renameSync(pair.from, pair.to);
    } catch (failed) {
      unlinkSync(pair.to);
      throw failed;
    }
    pair.state = 'done';
  }
}

/** Other letters for the same name: file systems that fold case take both for one. */
function rewrite(pair: Pair, job: Job, context: MoveContext): void {
  const between = betweenPath(pair.from, job, context);
  renameSync(pair.from, between);
  try {
    linkOrRename(between, pair.to);
  } catch (error) {
    renameSync(between, pair.from);
    throw error;
  }
  pair.state = 'done';
}

function linkOrRename(from: string, to: string): void {
  try {
    linkSync(from, to);
    unlinkSync(from);
  } catch (error) {
    if (!NO_LINKS.has((error as NodeJS.ErrnoException).code ?? '')) throw error;
    if (standing(to) !== null) throw Object.assign(new Error(to), { code: 'EEXIST' });
    renameSync(from, to);
  }
}

/** What was named before something went wrong bears its old name alone again. */
function takeBack({ pairs }: Job): void {
  for (const pair of pairs) {
    if (pair.state === 'waiting') continue;
    try {
      if (pair.state === 'linked') unlinkSync(pair.to);
      else renameSync(pair.to, pair.from);
      pair.state = 'waiting';
    } catch {
      // It stands under both names, or the new one: the next try takes it up.
    }
  }
}

function takeOldNames({ pairs }: Job, touched: Set<string>): void {
  for (const pair of pairs) {
    if (pair.state !== 'linked') continue;
    const [source, target] = [standing(pair.from), standing(pair.to)];
    if (target === null) throw new StepFailure(`${nameOf(pair.to)} was taken away while it was moved; it still stands under its old name. Resume.`);
    if (source !== null && !isSameFile(source, target))
      throw new StepFailure(`Another file was put in the place of ${nameOf(pair.from)} while it was moved. It is left where it is.`);
    if (source !== null) unlinkSync(pair.from);
    pair.state = 'done';
    touched.add(dirname(pair.from));
  }
}

function outcomeOf({ step, pairs }: Job): StepOutcome {
  const now = pairs.map((pair) => identityOf(standing(pair.to)!));
  const bytes = now.reduce((sum, { sizeBytes }) => sum + sizeBytes, 0);
  if (!step.frames) return { bytes, identity: now[0]!, checked: 'moved, the very file' };
  const files = now.map((identity, index) => ({ name: step.frames!.asNames[index]!, bytes: identity.sizeBytes, sha256: '', identity }));
  return { bytes, files, identity: identityOfFrames(now), checked: `${now.length} frames moved, the very files` };
}

/** What became of it, in the journal; the stock knows the file in its new state. */
function journalEnd({ row, step, stopped, outcome }: Job, { catalogue, runId }: MoveContext): void {
  const at = new Date().toISOString();
  if (stopped === 'left')
    return catalogue.runs.finish(runId, row.ordinal, { bytes: 0, left: true, checked: 'left where it is: it was changed or moved since' }, at);
  if (stopped === 'copy') return catalogue.runs.setPending(runId, row.ordinal, row.pending);
  if (stopped !== null) return catalogue.runs.fail(runId, row.ordinal, 'failed', stopped.message, at);
  noteIdentity(step, outcome!, catalogue);
  catalogue.runs.finish(runId, row.ordinal, outcome!, at);
}

export function noteIdentity(step: MoveStep, { identity, files }: StepOutcome, catalogue: Catalogue): void {
  if (identity) catalogue.moves.setIdentity(movedItem(step, 'to'), identity, files ? files.map((file) => packIdentity(file.identity!)) : null);
}

/** The folder with those above it that are not there, each journalled as the run's own. */
function makeFolder(folder: Place, { catalogue, places, runId }: MoveContext, touched: Set<string>): void {
  for (const path of missingFolders(folder, places)) {
    const absolute = places.resolve({ ...folder, path });
    // Before it stands: an end of the process between the two would leave one that nobody knows of.
    catalogue.runs.addFolder(runId, { shelfId: folder.shelfId, path });
    try {
      mkdirSync(absolute);
    } catch (error) {
      if ((error as NodeJS.ErrnoException).code === 'EEXIST') continue;
      throw error;
    }
    touched.add(dirname(absolute));
  }
}

function flushFolders(folders: Iterable<string>): void {
  for (const folder of folders) {
    try {
      const handle = openSync(folder, 'r');
      try {
        fsyncSync(handle);
      } finally {
        closeSync(handle);
      }
    } catch {
      // Not every system flushes folders.
    }
  }
}
