import { cutWav } from '../../../../../core/media/riff';
import { frames } from '../../../../../core/time/range';
import { StepStopped } from '../../../../errors/explain-error';
import { runCopy } from '../../../../files/copy-files';
import { readWavHeader } from '../../../../media/wav-file';
import { CutUnproven, type Cutter } from '../cutter';

/** Samples are copied as they stand, with a header of their own. */
export const wavCutter: Cutter = {
  containers: ['wav'],
  async cut({ source, identity, part, range, control }) {
    const header = await readWavHeader(source);
    const segments = header && cutWav(header, range.start, range.end);
    if (!segments) throw new CutUnproven('it is no WAV file that holds these samples');
    const result = await runCopy({ write: { source, segments, keepTimes: false, mustBe: identity }, target: part, control });
    if (result.stopped) throw new StepStopped();
    return { bytes: result.bytes, sha256: result.sha256, checked: `${frames(range)} samples copied, read back` };
  },
};
