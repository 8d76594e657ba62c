/** SMPTE ST 12-1 time labels: frame counts to hh:mm:ss:ff and back, drop-frame and not. */
import { canDropFrame, nominalFps, rateLabel, type Rate } from './rate';

export type Timecode = { ok: true; frame: number; dropFrame: boolean } | { ok: false; reason: string };

/** Labels left out each minute but every tenth: 2 at nominal 30, 4 at 60, 8 at 120 (ST 12-1, 5.2.2). */
function droppedLabels(r: Rate): number {
  return (nominalFps(r) / 30) * 2;
}

/** Frames counted in 24 hours of labels: 2 589 408 at 30000/1001 drop-frame. */
export function framesPerDay(r: Rate, dropFrame: boolean): number {
  const labels = nominalFps(r) * 86_400;
  return dropFrame && canDropFrame(r) ? labels - droppedLabels(r) * 24 * 54 : labels;
}

/**
 * Label of a frame count that starts at 00:00:00:00. `outsideDay` says what becomes of counts below 0 and of 24 hours
 * of labels or more: `wrap`, as a clock does, or `refuse`.
 * Drop-frame labels carry a semicolon. `dropFrame` is ignored at rates that have no drop-frame count.
 * Throws RangeError for a count that is not a whole number, and for one outside the day where that is refused.
 */
export function frameToTimecode(frame: number, r: Rate, dropFrame: boolean, outsideDay: 'wrap' | 'refuse' = 'wrap'): string {
  if (!Number.isInteger(frame)) throw new RangeError(`${frame} is not a whole frame count`);
  const fps = nominalFps(r);
  const drops = dropFrame && canDropFrame(r);
  const day = framesPerDay(r, drops);
  if (outsideDay === 'refuse' && (frame < 0 || frame >= day))
    throw new RangeError(`frame ${frame} is ${frame < 0 ? 'before 00:00:00:00' : 'after the last frame of the day'} at ${rateLabel(r)}`);
  let count = ((frame % day) + day) % day;
  if (drops) {
    const dropped = droppedLabels(r);
    const perMinute = fps * 60 - dropped;
    const perTenMinutes = perMinute * 10 + dropped;
    const tens = Math.floor(count / perTenMinutes);
    const rest = count % perTenMinutes;
    const minutes = rest < fps * 60 ? 0 : 1 + Math.floor((rest - fps * 60) / perMinute);
    count += dropped * (tens * 9 + minutes);
  }
  const digits = fps > 100 ? 3 : 2;
  const two = (value: number) => String(value).padStart(2, '0');
  const seconds = Math.floor(count / fps);
  return (
    `${two(Math.floor(seconds / 3600))}:${two(Math.floor(seconds / 60) % 60)}:${two(seconds % 60)}` +
    `${drops ? ';' : ':'}${String(count % fps).padStart(digits, '0')}`
  );
}

/**
 * Frame count of a label. Accepts hh:mm:ss:ff, hh:mm:ss;ff, hh;mm;ss;ff, hh:mm:ss.ff; a semicolon or point
 * before the frames means drop-frame where the rate has it, otherwise `dropFrame` decides.
 * Says what is wrong with a bad label, for instance that it is one that drop-frame counting leaves out.
 */
export function parseTimecode(text: string, r: Rate, dropFrame = false): Timecode {
  const match = /^\s*(\d{1,2})[:;](\d{1,2})[:;](\d{1,2})([:;.,])(\d{1,3})\s*$/.exec(text);
  if (!match) return { ok: false, reason: `"${text}" is not a timecode: expected hh:mm:ss:ff` };
  const [hours, minutes, seconds, frame] = [match[1], match[2], match[3], match[5]].map(Number) as [number, number, number, number];
  const fps = nominalFps(r);
  if (hours > 23) return { ok: false, reason: `"${text}": hour ${hours} is above 23` };
  if (minutes > 59) return { ok: false, reason: `"${text}": minute ${minutes} is above 59` };
  if (seconds > 59) return { ok: false, reason: `"${text}": second ${seconds} is above 59` };
  if (frame >= fps) return { ok: false, reason: `"${text}": frame ${frame} does not exist at ${rateLabel(r)}; the last one is ${fps - 1}` };
  const drops = canDropFrame(r) && (dropFrame || match[4] !== ':');
  let count = ((hours * 60 + minutes) * 60 + seconds) * fps + frame;
  if (drops) {
    const dropped = droppedLabels(r);
    if (seconds === 0 && minutes % 10 !== 0 && frame < dropped) {
      return {
        ok: false,
        reason: `"${text}" is a label that drop-frame counting leaves out: after a full minute it goes on at ;${String(dropped).padStart(2, '0')}`,
      };
    }
    const wholeMinutes = hours * 60 + minutes;
    count -= dropped * (wholeMinutes - Math.floor(wholeMinutes / 10));
  }
  return { ok: true, frame: count, dropFrame: drops };
}
