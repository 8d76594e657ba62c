import { fileName } from '../../../core/media/item';
import { rowOf, verifiedOn } from '../../../core/planning/check-copies/check-copies';
import type { CheckStep } from '../../../core/planning/plan/step';
import { StepFailure } from '../../errors/explain-error';
import type { Catalogue } from '../../catalogue/catalogue';
import type { Places } from '../../stock/mounts';
import { CopySurvey } from '../../stock/survey-copies';
import type { Executor } from '../step-context';

/** One for each run: its shelves stay where they were when it first asked for them. */
const surveys = new WeakMap<Places, CopySurvey>();

function surveyOf(catalogue: Catalogue, places: Places): CopySurvey {
  const survey = surveys.get(places) ?? new CopySurvey(catalogue, places);
  surveys.set(places, survey);
  return survey;
}

/** On which other drives a verified copy of the file stands at this moment. Fails where there are fewer than wanted. */
export const tellCopies: Executor<CheckStep> = async (step, { catalogue, places }) => {
  const { shelfId, path } = step.from!;
  const name = fileName(path);
  const item = catalogue.items.at(step.from!);
  const survey = surveyOf(catalogue, places);
  const now = item ? await survey.identityNow(item) : null;
  if (!item || now === null) throw new StepFailure(`${name} is not there any more, or cannot be looked at. Look for changes on its shelf.`);
  const file = await survey.fileOf(path, now.sizeBytes, item, now);
  if (file.state === 'unknown') throw new StepFailure(`${name} was changed after the plan was made. Look for changes on its shelf.`);
  const row = rowOf(file, { shelf: { id: shelfId, name: '', drive: survey.driveOf(shelfId) }, nameOf: survey.nameOf }, step.copies!);
  if (row.state !== 'enough')
    throw new StepFailure(`${row.drives === 0 ? 'No verified copy on another drive' : `Only ${verifiedOn(row.drives, row.shelves)}`}. Do not format yet.`); // prettier-ignore
  const { sha256 } = item;
  return { bytes: 0, checked: verifiedOn(row.drives, row.shelves), identity: now, verifiedOn: row.shelves, ...(sha256 ? { sha256 } : {}) };
};
