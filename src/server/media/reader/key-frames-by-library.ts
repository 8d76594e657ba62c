/** Where key frames stand, as packets are marked and as pictures come out of the decoder. Runs in the reader's process only. */
import { AV_PICTURE_TYPE_I } from 'node-av/constants';
import { FRAMES_LOOKED_AT, framesBetween, MOST_GROUP_BYTES, MOST_GROUP_PACKETS, type SeenKeys } from '../seen-keys';
import { NO_TIME } from './open-file';
import { framesOf, packetsOf, seekTo, withPicture, type Picture } from './open-picture';

export function keyFramesByLibrary(file: string, container: string): SeenKeys | null {
  const spacing = withPicture(file, container, spacingIn);
  if (spacing !== 1) return { spacing, picturesAlone: false };
  const alone = withPicture(file, container, (picture) => {
    const seconds = Number(picture.context.duration) / 1e6;
    return standAlone(picture) && (seconds < 2 || (seekTo(picture, seconds / 2) && standAlone(picture)));
  });
  return { spacing, picturesAlone: alone ?? false };
}

/** All that are looked at count: one that is no key frame among them, and it is the distance of two key frames, not 1. */
function spacingIn(picture: Picture): number | null {
  let [count, bytes] = [0, 0];
  const keys: { readonly at: number; readonly seconds: number | null }[] = [];
  const { timeBase, avgFrameRate } = picture.stream;
  const rate = avgFrameRate.den === 0 ? 0 : avgFrameRate.num / avgFrameRate.den;
  for (const packet of packetsOf(picture)) {
    if (packet.isKeyframe) keys.push({ at: count, seconds: packet.pts === NO_TIME ? null : (Number(packet.pts) * timeBase.num) / timeBase.den });
    count++;
    bytes += packet.size;
    if (keys.length >= 2 && keys.length < count) return framesBetween(keys.at(-2)!, keys.at(-1)!, rate);
    if (keys.length >= FRAMES_LOOKED_AT) return 1;
    if (count >= MOST_GROUP_PACKETS || bytes > MOST_GROUP_BYTES) break;
  }
  return keys.length === count && count > 0 ? 1 : null;
}

function standAlone(picture: Picture): boolean {
  let seen = 0;
  for (const frame of framesOf(picture)) {
    if (frame.pictType !== AV_PICTURE_TYPE_I) return false;
    if (++seen >= FRAMES_LOOKED_AT) return true;
  }
  return seen > 0;
}
