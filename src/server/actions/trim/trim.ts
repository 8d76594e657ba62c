import { rm } from 'node:fs/promises';
import { fileName } from '../../../core/media/item';
import type { TrimStep } from '../../../core/planning/plan/step';
import type { StepOutcome } from '../../catalogue/step-outcome';
import { decodedWords, decodeFrames } from '../../media/decode';
import { CutUnproven } from './cutters/cutter';
import { cutterFor } from './cutters/cutters';
import { mustWait } from '../../threads/control';
import { StepStopped } from '../../errors/explain-error';
import { makeFile } from '../made/make-file';
import { checkPrecondition, checkUnchanged } from '../made/precondition';
import type { Executor, Source, StepContext } from '../step-context';
import { enterChecksum } from '../../stock/checksums';
import { copyWhole } from '../copy/copy';

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
      return await cut(step, source, part, context);
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

async function cut({ facts, range }: TrimStep, { path, identity }: Source, part: string, context: StepContext): Promise<StepOutcome> {
  const cutter = cutterFor(facts.container);
  if (!cutter) throw new CutUnproven(`this version does not cut ${facts.container.toUpperCase()}`);
  const { control, signal } = context;
  const made = await cutter.cut({ source: path, identity, part, range, facts, control, signal, watch: (file) => context.watch(file) });
  await checkUnchanged(path, identity, fileName(path));
  return made;
}

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
