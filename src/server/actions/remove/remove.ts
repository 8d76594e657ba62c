import { unlinkSync } from 'node:fs';
import type { RemoveStep } from '../../../core/planning/plan/step';
import { isSameObject, isUntouched } from '../../../core/media/identity';
import { folderOf, samePlace } from '../../../core/media/item';
import { lastCopies } from '../../projects/last-copies';
import { localDay } from '../../../core/time/local-day';
import { readersOf } from '../../projects/readers';
import { standingAt } from '../../stock/identify';
import { runCopy } from '../../files/copy-files';
import type { StepOutcome } from '../../catalogue/step-outcome';
import { StepStopped } from '../../errors/explain-error';
import { flushFolder } from '../made/folders';
import type { Executor, StepContext } from '../step-context';
import { dirname } from 'node:path';

function left(why: string): StepOutcome {
  return { bytes: 0, left: true, checked: `left where it is: ${why}` };
}

/** Who reads it and was not known of when the plan was read, in words; null where there is nobody. */
function unknownReader({ from, known }: RemoveStep, { catalogue, places }: StepContext): string | null {
  if (!known) return null;
  const [renditions, losing] = [new Set(known.renditions), new Set(known.losing)];
  // A frame is read by whoever reads the sequence it is of.
  const sequences = catalogue.items.sequencesIn({ ...from!, path: folderOf(from!.path) }).map(({ place }) => place);
  const readers = readersOf(catalogue, places, [from!, ...sequences]);
  const since = readers.find((reader) => reader.isLinked && !reader.isPart && !renditions.has(reader.renditionId));
  if (since) return `the clip "${since.clip}" of "${since.project}" reads it since`;
  const last = readers.find((reader) => reader.losesLast && !losing.has(reader.clipId));
  return last ? `it is the last file of the clip "${last.clip}" of "${last.project}" that is plugged in` : null;
}

/** Whether it became the last whole copy since the plan was read. */
function isLastSince({ copyOf, from }: RemoveStep, { catalogue, places }: StepContext): boolean {
  if (!copyOf || copyOf.isLastKnown) return false;
  const { listed: place, source, sourcePrint } = copyOf;
  // A frame of a sequence that is none any more: its first one went, and was asked about.
  if (!samePlace(place, from) && !catalogue.items.at(place)) return false;
  return lastCopies(catalogue, places, [{ place, source, sourcePrint }]).size > 0;
}

/** Asked at this moment, whatever the plan knew: why it stays; null where it may go. */
function whyStays(step: RemoveStep, context: StepContext): string | null {
  const crate = context.catalogue.crates.keptAt(step.from!, localDay(new Date()));
  if (crate !== null) return `the crate "${crate}" was locked or handed over`;
  return (
    unknownReader(step, context) ?? (isLastSince(step, context) ? 'it is the last whole copy that is plugged in, since the plan was read' : null)
  );
}

/** Removes a file only while it is the very file an earlier run made, byte for byte. The stock knows at once. */
export const removeFile: Executor<RemoveStep> = async (step, context) => {
  const path = context.places.resolve(step.from!);
  const gone = () => context.change(() => context.catalogue.items.markRemoved(step.from!, new Date().toISOString()));
  const standing = standingAt(path);
  if (!standing) {
    await gone();
    return { bytes: 0, checked: 'was gone already' };
  }
  if (step.made && !isSameObject(step.made, standing)) return left('another file was put in its place since');
  if (step.sha256 === null && !(step.made && isUntouched(standing, step.made))) return left('it was changed since the plan was made');
  const now = await runCopy({ write: null, target: path, control: context.control });
  if (now.stopped) throw new StepStopped();
  const still = standingAt(path);
  if ((step.sha256 !== null && now.sha256 !== step.sha256) || !still || !isSameObject(standing, still) || still.modifiedNs !== standing.modifiedNs)
    return left(step.mustHold ? 'it was changed since the plan was made' : 'it was changed since the run made it');
  context.places.resolve(step.from!);
  // Nobody begins to read it between the question and its end.
  let reader: string | null = null;
  await context.change(() =>
    context.catalogue.transaction(() => {
      reader = whyStays(step, context);
      if (reader !== null) return;
      // Tried again after its disk had no room, it is gone already.
      if (standingAt(path)) unlinkSync(path);
      context.catalogue.items.markRemoved(step.from!, new Date().toISOString());
    }),
  );
  if (reader !== null) return left(reader);
  await flushFolder(dirname(path));
  return {
    bytes: now.bytes,
    sha256: now.sha256,
    checked: step.sha256 === null ? 'untouched since the stocktake, then removed' : 'compared before it was removed',
  };
};
