import { planGenerations, type GenerationRow, type GenerationsChange, type GenerationsDetail } from '../../../core/planning/generations/generations';
import { generationsForm, type GenerationsSettings } from '../../../core/planning/generations/settings';
import type { Plan } from '../../../core/planning/plan/plan';
import type { CatalogueChange } from '../../../core/planning/plan/step';
import { timelinesNamed } from '../../../core/planning/taking/clip-scope';
import { filterWords, fits } from '../../../core/words/filter-words';
import { notFound } from '../../errors/problem';
import { cutInOrder, type Window, type WindowQuery } from '../../../core/lists/list-window';
import type { ChangeMaker } from '../../actions/step-context';
import { defineKind } from '../kind';
import { projectSnapshot } from '../project-snapshot';

const generations: ChangeMaker<GenerationsChange> = {
  toTell: (change) => ({ ...change, back: [], on: [] }) as CatalogueChange,
  make({ back, on }, { catalogue }) {
    // Only what really was the other way round is turned again by the undo.
    const went = catalogue.clips.setBack(back, true);
    const came = catalogue.clips.setBack(on, false);
    return {
      bytes: 0,
      checked: `${went.length} set back, ${came.length} read again`,
      back: { type: 'generations', back: came, on: went } satisfies GenerationsChange,
    };
  },
};

export const generationsKind = defineKind<GenerationsSettings, GenerationsDetail>()({
  form: generationsForm,
  undoable: true,
  isKept: true,
  changes: { generations },
  rows: { sorts: ['name'], of: generationsWindow },
  toTell: (plan) => ({ ...plan.detail, rows: [] }),
  async plan(asked, settings) {
    return planGenerations(await projectSnapshot(asked, timelinesNamed(settings.scope)), settings);
  },
});

const GROUPS: Readonly<Record<string, (row: GenerationRow) => boolean>> = {
  '': () => true,
  another: ({ readsNow, readsThen }) => readsNow !== readsThen,
  several: ({ cells }) => cells.length > 1,
};

function generationsWindow(
  plan: Plan<GenerationsDetail>,
  _settings: GenerationsSettings,
  group: string,
  query: WindowQuery<'name'>,
): Window<GenerationRow> {
  const test = Object.hasOwn(GROUPS, group) ? GROUPS[group] : undefined;
  if (!test) throw notFound('list');
  const words = filterWords(query.filter);
  const rows = plan.detail.rows
    .filter(test)
    .filter(({ name, cells }) => fits(words, `${name} ${cells.map(({ place }) => place?.path ?? '').join(' ')}`));
  return cutInOrder(rows, query);
}
