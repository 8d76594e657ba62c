import { placeKey } from '../../../core/media/item';
import type { Plan } from '../../../core/planning/plan/plan';
import {
  planRemoveProxies,
  type Readers,
  type RemovalDetail,
  type RemovalRow,
  type RenditionsForgotten,
} from '../../../core/planning/remove-proxies/remove-proxies';
import { removeProxiesForm, type RemoveProxiesSettings } from '../../../core/planning/remove-proxies/settings';
import { timelinesNamed } from '../../../core/planning/taking/clip-scope';
import { filterWords, fits } from '../../../core/words/filter-words';
import { notFound } from '../../api/problem';
import { cutInOrder, type Window, type WindowQuery } from '../../list-window';
import type { Asked, ChangeMaker, Kind } from '../kind';
import { projectSnapshot } from '../project-snapshot';

const renditionsForgotten: ChangeMaker<RenditionsForgotten> = {
  make({ renditions }, { catalogue }) {
    // A file that was left, or came back, is still linked.
    const gone = renditions.filter(({ place }) => place === null || catalogue.items.at(place) === null);
    const went = catalogue.clips.removeRenditions(gone.map(({ id }) => id));
    return { bytes: 0, checked: went === 1 ? '1 rendition' : `${went} renditions` };
  },
};

export const removeProxiesKind: Kind<RemoveProxiesSettings> = {
  form: removeProxiesForm,
  undoable: false,
  isKept: true,
  changes: { 'renditions-forgotten': renditionsForgotten },
  rows: { sorts: ['name', 'size'], of: removalWindow },
  toTell: (plan) => ({ ...(plan as Plan<RemovalDetail>).detail, rows: [] }),
  mustBeRead: (plan) => (plan as Plan<RemovalDetail>).detail.goOffline,
  async plan(asked, settings) {
    const snapshot = await projectSnapshot(asked, timelinesNamed(settings.scope));
    return planRemoveProxies(snapshot, settings, readersOf(asked, snapshot.clips, settings.rendition));
  },
};

/** Who reads the files of these renditions, of whatever project. */
function readersOf({ catalogue, projectId }: Asked, clips: Parameters<typeof planRemoveProxies>[0]['clips'], kind: string): Readers {
  const places = clips.flatMap(({ renditions }) =>
    renditions.flatMap((own) => (own.kind === kind && own.links[0]?.place ? [own.links[0].place] : [])),
  );
  const unique = [...new Map(places.map((place) => [placeKey(place), place])).values()];
  const readers = new Map<string, { renditionId: string; words: string }[]>();
  for (const { place, renditionId, project, projectId: of } of catalogue.clips.linking(unique)) {
    const own = readers.get(placeKey(place)) ?? [];
    own.push({ renditionId, words: of === projectId ? 'another clip' : `the project "${project}"` });
    readers.set(placeKey(place), own);
  }
  return readers;
}

function removalWindow(plan: Plan, _settings: RemoveProxiesSettings, group: string, query: WindowQuery<'name' | 'size'>): Window<RemovalRow> {
  if (group !== '') throw notFound('list');
  const words = filterWords(query.filter);
  const rows = (plan as Plan<RemovalDetail>).detail.rows.filter(({ name, place }) => fits(words, `${name} ${place?.path ?? ''}`));
  return cutInOrder(rows, query, ({ bytes }) => bytes);
}
