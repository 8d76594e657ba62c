import type { LinkStep } from '../../../core/planning/plan/step';
import type { Action, Occupied } from '../action';
import { changeMany } from './catalogue-change';
import { changeCatalogue } from './link';

/** How many changes are made in one transaction: nobody waits long for it. */
const AT_ONCE = 500;

export const linkAction: Action<LinkStep> = {
  execute: changeCatalogue,
  occupies({ change }, makers) {
    const shelves = new Set(
      makers
        .find(change.type)
        ?.onDisk?.at(change)
        .map(({ shelfId }) => shelfId),
    );
    return shelves.size > 0 ? ['own', ...[...shelves].sort().map((shelf): Occupied => ({ shelf }))] : ['own', 'catalogue'];
  },
  together: {
    most: AT_ONCE,
    unit: 'clips',
    allows: ({ what }, makers) => what !== null && makers.find(what)?.standsAlone === true,
    work: (rows, context, makers) => Promise.resolve(changeMany(rows, context, makers)),
  },
  toTell: (step, makers) => ({ ...step, change: makers.find(step.change.type)?.toTell?.(step.change) ?? step.change }),
};
