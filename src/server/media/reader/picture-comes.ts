/** Whether a picture comes out at a moment of a file, by the library. Runs in the reader's process only. */
import { NO_TIME } from './open-file';
import { framesOf, seekTo, withPicture } from './open-picture';

export interface Moment {
  readonly file: string;
  readonly container: string;
  /** From the begin of the file. */
  readonly seconds: number;
  /** The key frame before is enough. */
  readonly fromKey: boolean;
}

/** True where one came. False says nothing: ffmpeg is the judge of what does not come. */
export function pictureComes({ file, container, seconds, fromKey }: Moment): boolean {
  const comes = withPicture(file, container, (picture) => {
    if (seconds > 0 && !seekTo(picture, seconds)) return false;
    const from = seconds > 0 && !fromKey ? picture.begin + seconds : -Infinity;
    const { num, den } = picture.stream.timeBase;
    for (const { bestEffortTimestamp: time } of framesOf(picture)) {
      // Times of a file are rounded to its own unit: half of that is no earlier.
      if (time === NO_TIME || ((Number(time) + 0.5) * num) / den >= from) return true;
    }
    return false;
  });
  return comes ?? false;
}
