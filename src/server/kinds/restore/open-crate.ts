import type { OpenCrate } from '../../../core/planning/restore/restore';
import { StepFailure } from '../../errors/explain-error';
import { adopt, stockAndEnter, withoutTexts } from '../adopt/adopt';
import type { ChangeMaker } from '../../actions/step-context';

export const openCrate: ChangeMaker<OpenCrate> = {
  onDisk: { at: ({ base }) => [base], work: stockAndEnter },
  toTell: withoutTexts,
  make(change, context) {
    const { catalogue, runId } = context;
    const { projectId: id, name, rate, dropFrame } = change;
    const standing = catalogue.projects.get(id);
    if (standing && catalogue.runs.get(runId)?.projectId !== id)
      throw new StepFailure('This crate was opened as a project by another run meanwhile. Look at the list of projects, or make a new plan.');
    if (!standing) catalogue.projects.add({ id, name, rate, dropFrame, createdAt: new Date().toISOString() });
    catalogue.runs.setProject(runId, id);
    if (change.trouble) catalogue.projects.openedFrom(id, { crate: change.crateName ?? name, runId, trouble: change.trouble });
    const { bytes, checked } = adopt(id, change.timelines, change.base, context);
    return { bytes, checked };
  },
};
