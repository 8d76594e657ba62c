import type { Plan } from '../../../core/planning/plan/plan';
import {
  planRemoveProxies,
  type RemovalDetail,
  type RemovalRow,
  type RenditionsForgotten,
} from '../../../core/planning/remove-proxies/remove-proxies';
import { removeProxiesForm, type RemoveProxiesSettings } from '../../../core/planning/remove-proxies/settings';
import { timelinesNamed } from '../../../core/planning/taking/clip-scope';
import { filterWords, fits } from '../../../core/words/filter-words';
import { notFound } from '../../errors/problem';
import { cutInOrder, type Window, type WindowQuery } from '../../../core/lists/list-window';
import { readersOf } from '../../projects/readers';
import type { ChangeMaker } from '../../actions/step-context';
import { defineKind } from '../kind';
import { projectSnapshot } from '../project-snapshot';
import { plural } from '../../../core/words/figures';

const renditionsForgotten: ChangeMaker<RenditionsForgotten> = {
  make({ renditions }, { catalogue }) {
    // A file that was left, or came back, is still linked.
    const gone = renditions.filter(({ place }) => place === null || catalogue.items.at(place) === null);
    const went = catalogue.clips.removeRenditions(gone.map(({ id }) => id));
    return { bytes: 0, checked: plural(went, 'rendition') };
  },
};

export const removeProxiesKind = defineKind<RemoveProxiesSettings, RemovalDetail>()({
  form: removeProxiesForm,
  undoable: false,
  isKept: true,
  changes: { 'renditions-forgotten': renditionsForgotten },
  rows: { sorts: ['name', 'size'], of: removalWindow },
  toTell: (plan) => ({ ...plan.detail, rows: [] }),
  mustBeRead: ({ detail }) => [detail.goOffline, detail.lost],
  async plan(asked, settings) {
    const snapshot = await projectSnapshot(asked, timelinesNamed(settings.scope));
    const { catalogue, mounts } = asked;
    return catalogue.moment(() => planRemoveProxies(snapshot, settings, (going) => readersOf(catalogue, mounts, going)));
  },
});

function removalWindow(
  plan: Plan<RemovalDetail>,
  _settings: RemoveProxiesSettings,
  group: string,
  query: WindowQuery<'name' | 'size'>,
): Window<RemovalRow> {
  if (group !== '') throw notFound('list');
  const words = filterWords(query.filter);
  const rows = plan.detail.rows.filter(({ name, place }) => fits(words, `${name} ${place?.path ?? ''}`));
  return cutInOrder(rows, query, ({ bytes }) => bytes);
}
