import { pathToFileURL } from 'node:url';
import { planExport, type ExportDetail } from '../../../core/planning/export/export';
import { exportForm, type ExportSettings } from '../../../core/planning/export/settings';
import { defineKind, type PlanContext } from '../kind';
import { projectSnapshot } from '../project-snapshot';
import { standingIn } from '../standing';

export const exportKind = defineKind<ExportSettings, ExportDetail>()({
  form: exportForm,
  undoable: true,
  async plan(asked, settings) {
    const snapshot = await projectSnapshot(asked, settings.timelineIds);
    const taken = standingIn(asked.mounts, settings.destination, settings.folderName.trim(), 1);
    return planExport(snapshot, settings, { taken, addresses: shelfAddresses(asked) });
  },
});

/** `file:` address of each attached shelf's root. */
function shelfAddresses({ catalogue, mounts }: PlanContext): Map<string, string> {
  return new Map(
    catalogue.shelves.list().flatMap((shelf): [string, string][] => {
      const root = mounts.rootOf(shelf.id);
      return root === null ? [] : [[shelf.id, pathToFileURL(root).href]];
    }),
  );
}
