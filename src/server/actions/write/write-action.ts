import { placeKey } from '../../../core/media/item';
import type { WriteStep } from '../../../core/planning/plan/step';
import type { MadeFile } from '../../../core/planning/undo/undo';
import type { Catalogue } from '../../catalogue/catalogue';
import { ownShelf, type Action } from '../action';
import { inspectFile } from '../made/look-at';
import { fileMade } from '../made/made-by';
import { writeFile } from './write';

export const writeAction: Action<WriteStep> = {
  execute: writeFile,
  occupies: (step) => [ownShelf(step)],
  inspect: inspectFile,
  halfMade: ({ to }) => to!,
  made: (row, where) => fileMade(row).map((file) => ({ ...file, copyOf: packedIn(row.step, where.catalogue) })),
  toTell: withoutTexts,
};

/** What a bundle in one file holds: the first of its media that is not there any more, else the first. Null for other texts. */
function packedIn({ content, to }: WriteStep, catalogue: Catalogue): MadeFile['copyOf'] {
  if (content.type !== 'zip') return null;
  const whole = content.entries.flatMap((entry) =>
    'from' in entry && entry.mustHold?.fingerprint ? [{ place: entry.from, print: entry.mustHold.fingerprint }] : [],
  );
  const standing = new Set(catalogue.items.atPlaces(whole.map(({ place }) => place)).map(({ place }) => placeKey(place)));
  const one = whole.find(({ place }) => !standing.has(placeKey(place))) ?? whole[0];
  return one ? { listed: to!, source: one.place, sourcePrint: one.print } : null;
}

/** Texts of files can be large and nobody reads them in a plan. */
function withoutTexts(step: WriteStep): WriteStep {
  const { content } = step;
  if (content.type === 'text' || content.type === 'timeline') return { ...step, content: { type: 'text', text: '' } };
  if (content.type !== 'zip') return step;
  return { ...step, content: { type: 'zip', entries: content.entries.map((entry) => ('text' in entry ? { ...entry, text: '' } : entry)) } };
}
