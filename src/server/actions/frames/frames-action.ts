import { below, type Place, type SequenceFacts } from '../../../core/media/item';
import { findSequences, sequenceName } from '../../../core/media/image-sequence';
import type { FramesStep } from '../../../core/planning/plan/step';
import type { StepOutcome } from '../../catalogue/step-outcome';
import type { Places } from '../../stock/mounts';
import { ownShelf, type Action, type Inspected } from '../action';
import { inspectFiles } from '../made/look-at';
import { copyFrames } from './frames';

/** Its half-made frame stands in the folder of the frames. */
const inFolder = (folder: Place) => below(folder, 'frame');

export const framesAction: Action<FramesStep> = {
  execute: copyFrames,
  occupies: (step) => [ownShelf(step)],
  inspect: ({ to }: FramesStep, outcome: StepOutcome, places: Places): Promise<Inspected> => inspectFiles(to!, outcome, places),
  halfMade: ({ to }) => inFolder(to!),
  twin: ({ twin }) => (twin ? inFolder(twin) : null),
  made({ step, ordinal, outcome }, { catalogue, runId }) {
    const { to, from, mustHold } = step;
    const journalled = [...catalogue.runs.frames(runId, ordinal).values()];
    // Older journals have the frames in the outcome alone.
    const frames = journalled.length > 0 ? journalled : (outcome?.files ?? []).filter((file) => !file.wasThere);
    const copyOf = {
      listed: below(to!, sequenceName(sequenceMade(step))),
      source: below(from!, sequenceName(step.sequence)),
      sourcePrint: mustHold?.fingerprint ?? null,
    };
    return frames.map(({ name, bytes, sha256, identity }) => ({
      place: below(to!, name),
      bytes,
      sha256,
      identity: identity ?? null,
      copyOf,
      isLast: false,
    }));
  },
  toTell: (step) => ({ ...step, holds: null }),
};

/** A sequence as it is named where its frames were written. */
function sequenceMade({ sequence, names, asNames }: FramesStep): SequenceFacts {
  // Some of the frames are another sequence.
  return findSequences(asNames ?? names).sequences[0]?.facts ?? sequence;
}
