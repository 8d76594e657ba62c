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
      throw new StepFailure('The shelf was taken off the list. Put it on the list again, then take stock of it.');
    const root = context.places.resolve(step.from!);
    const { state, figures } = await stockInThread({ config: context.config, shelfId, root, control: context.control }, context.signal, (figures) =>
      context.report(figures),
    );
    if (state === 'cancelled') throw new StepStopped();
    if (state !== 'done') throw new StepFailure(figures.message ?? 'The stocktake could not be finished.');
    return { bytes: 0, checked: countWords(figures), stock: figures };
  },
  // Beside whatever else is done there: it changes nothing. Never twice on one shelf.
  occupies: (step) => [{ stock: step.from!.shelfId }],
  cancelled: 'Cancelled; what was read until then is kept.',
};

function countWords({ files, readFiles, goneFiles }: StocktakeFigures): string {
  return `${plural(files, 'file')} seen, ${readFiles} read, ${goneFiles} gone`;
}
