import { planSort, type SortDetail } from '../../../core/planning/sort/sort';
import { sortForm, type SortSettings } from '../../../core/planning/sort/settings';
import { sortCsv, sortHtml } from '../../../core/planning/sort/sort-sheet';
import { shelfSnapshots } from '../../projects/snapshot';
import { defineKind } from '../kind';
import { noProject } from '../project-snapshot';
import { gatherInput } from './gather-input';
import { sortChanges } from './sort-changes';
import { sortWindow } from './sort-windows';

export const sortKind = defineKind<SortSettings, SortDetail>()({
  form: sortForm,
  undoable: true,
  takesOver: true,
  changes: sortChanges,
  isKept: true,
  // Folders that stay whole are moved with all that lies in them.
  goesByDisks: (plan) => plan.detail.rows.some(({ kind, stays }) => (kind === 'card' || kind === 'folder') && stays === null),
  begun: ({ projectId, detail }, { projects }) => projects.sortInto(projectId!, detail.ownFolder),
  rows: { sorts: ['path', 'name', 'size'], of: sortWindow },
  toKeep(plan, { destination }, catalogue) {
    const nameOf = catalogue.shelves.namer();
    const own = plan;
    return {
      csv: () => sortCsv(own, nameOf, nameOf(destination?.shelfId ?? '')),
      html: () => sortHtml(own, nameOf, nameOf(destination?.shelfId ?? '')),
    };
  },
  toTell: (plan) => ({ ...plan.detail, rows: [] }),
  async plan({ catalogue, mounts, projectId }, settings) {
    const shelves = await shelfSnapshots(catalogue, mounts);
    return catalogue.moment(() => {
      const project = projectId === null ? null : catalogue.projects.get(projectId);
      if (!project) throw noProject();
      return planSort(gatherInput({ id: project.id, name: project.name }, settings, { catalogue, mounts, shelves }), settings);
    });
  },
});
