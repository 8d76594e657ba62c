/** Looking again at what a run has made, before anything is said of it. */
import { isUntouched, type FileIdentity } from '../../core/media/identity';
import { joinPath, type Place } from '../../core/media/item';
import type { OutcomeFile, StepOutcome, StepRow } from '../catalogue/runs';
import { standingNow } from '../stock/identify';
import { PlaceError, type Places } from '../stock/mounts';
import { newControl } from '../workers/control';
import { runCopy } from '../workers/pool';

/**
 * `whole`: it stands there as the step left it (`outcome` where it was touched but is equal byte for byte); `gone`: it
 * must be made again; `altered` and `away`: why it cannot count, in a sentence.
 */
export type Finding =
  | { readonly is: 'whole'; readonly outcome: StepOutcome | null }
  | { readonly is: 'gone' }
  | { readonly is: 'altered' | 'away'; readonly message: string };

type Look = { readonly is: 'same' } | { readonly is: 'equal'; readonly identity: FileIdentity } | { readonly is: 'gone' | 'altered' };

/** What became of the files of a finished step. Steps that leave no file are whole. */
export async function inspectStep({ step, outcome }: StepRow, places: Places): Promise<Finding> {
  if (!outcome || step.action === 'link' || step.action === 'remove' || step.action === 'move') return { is: 'whole', outcome: null };
  try {
    // A sequence bears the name of no file; what was decoded was unchanged until its last frame.
    if (step.action === 'check') return step.decode ? { is: 'whole', outcome: null } : await inspectChecked(step.from!, outcome, places);
    if (outcome.files) return await inspectFrames(step.to!, outcome, outcome.files, places);
    const look = await lookAt(step.to!, outcome, places);
    if (look.is === 'gone') return { is: 'gone' };
    if (look.is === 'altered') return altered(step.to!);
    return { is: 'whole', outcome: look.is === 'equal' ? { ...outcome, identity: look.identity } : null };
  } catch (error) {
    if (error instanceof PlaceError)
      return { is: 'away', message: `It was made, but cannot be looked at now. ${error.message} Plug it in, then resume.` };
    return { is: 'away', message: `It was made, but cannot be looked at now: ${(error as Error).message}. Look at the drive, then resume.` };
  }
}

function altered(place: Place): Finding {
  return {
    is: 'altered',
    message: `${place.path} was altered since this run made it. Nothing is overwritten: move it away to have it made again, then resume.`,
  };
}

/** What was compared with a manifest is compared again when it was touched since. */
async function inspectChecked(from: Place, outcome: StepOutcome, places: Places): Promise<Finding> {
  const standing = await standingNow(places.resolve(from));
  return standing && outcome.identity && isUntouched(standing, outcome.identity) ? { is: 'whole', outcome: null } : { is: 'gone' };
}

async function inspectFrames(to: Place, outcome: StepOutcome, files: readonly OutcomeFile[], places: Places): Promise<Finding> {
  const now: OutcomeFile[] = [];
  let touched = false;
  for (const file of files) {
    const place = { shelfId: to.shelfId, path: joinPath(to.path, file.name) };
    const look = await lookAt(place, file, places);
    if (look.is === 'gone') return { is: 'gone' };
    if (look.is === 'altered') return altered(place);
    touched ||= look.is === 'equal';
    now.push(look.is === 'equal' ? { ...file, identity: look.identity } : file);
  }
  return { is: 'whole', outcome: touched ? { ...outcome, files: now } : null };
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
