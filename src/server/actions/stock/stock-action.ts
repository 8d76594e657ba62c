import type { StockStep } from '../../../core/planning/plan/step';
import { plural } from '../../../core/words/figures';
import type { StocktakeFigures } from '../../../core/planning/stocktake/stocktake';
import { StepFailure, StepStopped } from '../../errors/explain-error';
import { stockInThread } from './stock-in-thread';
import type { Action } from '../action';

export const stockAction: Action<StockStep> = {
  async execute(step, context) {
    const { shelfId } = step.from!;
    if (!context.catalogue.shelves.get(shelfId))
      throw new StepFailure('The shelf was taken off the list. Put it on the list again, then look for changes on it.');
    const root = context.places.resolve(step.from!);
    const look = async (before: StocktakeFigures | null): Promise<StocktakeFigures> => {
      const job = { config: context.config, shelfId, root, control: context.control };
      const { state, figures: seen } = await stockInThread(job, context.signal, (now) => context.report(added(before, now)));
      if (state === 'cancelled') throw new StepStopped();
      if (state !== 'done')
        throw new StepFailure(seen.message ?? 'The stocktake could not be finished. Look at the drive, then look for changes again.');
      const figures = added(before, seen);
      // What was laid there after its folder was walked is not seen yet.
      return context.wasAskedAgain() ? look(figures) : figures;
    };
    const figures = await look(null);
    return { bytes: 0, checked: countWords(figures), stock: figures };
  },
  // Beside whatever else is done there: it changes nothing. Never twice on one shelf.
  occupies: (step) => [{ stock: step.from!.shelfId }],
  cancelled: 'Cancelled; what was read until then is kept.',
};

/** Of a look and those before it in the same stocktake. */
function added(before: StocktakeFigures | null, now: StocktakeFigures): StocktakeFigures {
  if (!before) return now;
  return {
    ...now,
    readFiles: before.readFiles + now.readFiles,
    goneFiles: before.goneFiles + now.goneFiles,
    problems: Math.max(before.problems, now.problems),
  };
}

function countWords({ files, readFiles, goneFiles }: StocktakeFigures): string {
  return `${plural(files, 'file')} seen, ${readFiles} read, ${goneFiles} gone`;
}
