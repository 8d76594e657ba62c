/** Looking again at what a run has made, before anything is said of it. */
import { isUntouched, type FileIdentity } from '../../../core/media/identity';
import { joinPath, type Place } from '../../../core/media/item';
import type { Step } from '../../../core/planning/plan/step';
import type { OutcomeFile, StepOutcome } from '../../catalogue/step-outcome';
import { runCopy } from '../../files/copy-files';
import { standingNow } from '../../stock/identify';
import type { Places } from '../../stock/mounts';
import { newControl } from '../../threads/control';
import type { Inspected } from '../action';

type Look = { readonly is: 'same' } | { readonly is: 'equal'; readonly identity: FileIdentity } | { readonly is: 'gone' | 'altered' };

/** The one file of a step. */
export async function inspectFile({ to }: Step, outcome: StepOutcome, places: Places): Promise<Inspected> {
  const look = await lookAt(to!, outcome, places);
  if (look.is === 'gone') return { is: 'gone' };
  if (look.is === 'altered') return altered(to!);
  return { is: 'whole', outcome: look.is === 'equal' ? { ...outcome, identity: look.identity } : null };
}

/** What was compared with a manifest is compared again when it was touched since. */
export async function inspectRead(from: Place, outcome: StepOutcome, places: Places): Promise<Inspected> {
  const standing = await standingNow(places.resolve(from));
  return standing && outcome.identity && isUntouched(standing, outcome.identity) ? { is: 'whole', outcome: null } : { is: 'gone' };
}

/** Several files in a folder. */
export async function inspectFiles(to: Place, outcome: StepOutcome, places: Places): Promise<Inspected> {
  const now: OutcomeFile[] = [];
  let touched = false;
  for (const file of outcome.files ?? []) {
    const place = { shelfId: to.shelfId, path: joinPath(to.path, file.name) };
    const look = await lookAt(place, file, places);
    if (look.is === 'gone') return { is: 'gone' };
    if (look.is === 'altered') return altered(place);
    touched ||= look.is === 'equal';
    now.push(look.is === 'equal' ? { ...file, identity: look.identity } : file);
  }
  return { is: 'whole', outcome: touched ? { ...outcome, files: now } : null };
}

function altered(place: Place): Inspected {
  return {
    is: 'altered',
    message: `${place.path} was altered since this run made it. Nothing is overwritten: move it away to have it made again, then resume.`,
  };
}

/** Untouched since it was made, or else equal byte for byte. */
async function lookAt(place: Place, made: { sha256?: string; bytes: number; identity?: FileIdentity | null }, places: Places): Promise<Look> {
  const path = places.resolve(place);
  const standing = await standingNow(path);
  if (!standing) return { is: 'gone' };
  if (made.identity && isUntouched(standing, made.identity)) return { is: 'same' };
  if (standing.sizeBytes !== made.bytes) return { is: 'altered' };
  const { sha256 } = await runCopy({ write: null, target: path, control: newControl() });
  return sha256 === made.sha256 ? { is: 'equal', identity: standing } : { is: 'altered' };
}
