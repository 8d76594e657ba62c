import { allFrames, planDecode, together, type AllDecoded, type DecodeDetail, type WantedFrames } from '../../../core/planning/decode/decode';
import { decodeForm, type DecodeSettings } from '../../../core/planning/decode/settings';
import { fileName, type Item, type Place } from '../../../core/media/item';
import type { Plan } from '../../../core/planning/plan/plan';
import { timelineName } from '../../../core/planning/plan/snapshot';
import { findUsedMedia } from '../../../core/planning/taking/used-media';
import { filterWords, fits } from '../../../core/words/filter-words';
import { formatCount, plural } from '../../../core/words/figures';
import { cutOut, type Window, type WindowQuery } from '../../../core/lists/list-window';
import { notFound } from '../../errors/problem';
import type { ChangeMaker } from '../../actions/step-context';
import { defineKind, type PlanContext } from '../kind';
import { PlanRequestError } from '../../errors/problem';
import { projectSnapshot } from '../project-snapshot';

const allDecoded: ChangeMaker<AllDecoded> = {
  make(_change, { journal }) {
    const frames = journal().reduce((sum, { outcome }) => sum + (outcome?.decoded ?? 0), 0);
    return { bytes: 0, checked: `${formatCount(frames)} of ${formatCount(frames)} frames decode` };
  },
};

const SORTS = ['name', 'frames'] as const;
type Sort = (typeof SORTS)[number];
type Row = DecodeDetail['rows'][number];

export const decodeKind = defineKind<DecodeSettings, DecodeDetail>()({
  form: decodeForm,
  undoable: false,
  changes: { 'all-decoded': allDecoded },
  rows: { sorts: SORTS, of: decodeRows },
  toTell: (plan) => ({ files: plan.detail.rows.length }),
  async plan(asked, { scope, again }) {
    const { wanted, offline, words } = scope.of === 'timelines' ? await usedBy(asked, scope.timelineIds) : inFolder(asked, scope.place);
    const known = asked.catalogue.decoded.of(wanted.flatMap(({ item }) => item.content ?? []));
    const isChosen = scope.of === 'folder' || scope.timelineIds.length > 0;
    return planDecode({ projectId: asked.projectId, words, wanted, offline, known, isChosen }, again);
  },
});

interface Chosen {
  readonly wanted: readonly WantedFrames[];
  readonly offline: readonly string[];
  readonly words: string;
}

async function usedBy(asked: PlanContext, timelineIds: readonly string[]): Promise<Chosen> {
  const snapshot = await projectSnapshot(asked, timelineIds);
  const media = findUsedMedia(snapshot, { timelineIds, media: 'parts', headFrames: 0, tailFrames: 0, joinGapFrames: 0, countDisabled: false });
  const wanted = media.items.map(({ item, used }): WantedFrames => ({ item, ranges: item.facts.durationFrames === null ? allFrames(item) : used }));
  const names = snapshot.timelines.filter(({ id }) => timelineIds.includes(id)).map(timelineName);
  return {
    wanted: together(wanted),
    offline: [...new Set(media.offline.map(({ clip }) => clip.name))],
    words: names.length === 1 ? `the frames that ${names[0]} uses` : `the frames that ${plural(names.length, 'timeline')} use`,
  };
}

function inFolder({ catalogue, mounts }: PlanContext, place: Place): Chosen {
  if (mounts.rootOf(place.shelfId) === null) throw new PlanRequestError('The drive of this folder is not plugged in.');
  const items: Item[] = catalogue.sort.itemsBelow(place);
  const shelf = catalogue.shelves.names().get(place.shelfId) ?? '';
  return { wanted: items.map((item) => ({ item, ranges: allFrames(item) })), offline: [], words: `all media in ${fileName(place.path) || shelf}` };
}

function decodeRows(plan: Plan<DecodeDetail>, _settings: unknown, group: string, query: WindowQuery<Sort>): Window<Row> {
  if (group !== '') throw notFound('list');
  const words = filterWords(query.filter);
  const rows = plan.detail.rows.filter(({ place }) => fits(words, place.path));
  const sorted = query.sort === 'frames' ? [...rows].sort((a, b) => a.frames - b.frames) : [...rows].sort((a, b) => (a.name < b.name ? -1 : 1));
  return cutOut(query.down ? sorted.reverse() : sorted, query);
}
