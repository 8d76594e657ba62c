/** Opening a file by the library, with the limits that ffprobe is given. Runs in the reader's process only. */
import { Dictionary, FormatContext, InputFormat } from 'node-av/lib';
import { FORMATS, MOST_PIXELS, NUMBERED_PICTURE, READERS } from '../ffmpeg';

/** Null where the library does not open it. Whoever opens closes: `closeInputSync`. */
export function openFile(path: string, container = ''): FormatContext | null {
  const context = new FormatContext();
  context.allocContext();
  const reader = READERS[container];
  const options = Dictionary.fromObject({
    protocol_whitelist: 'file,pipe',
    format_whitelist: FORMATS,
    max_pixels: String(MOST_PIXELS),
    threads: '1',
    ...(NUMBERED_PICTURE.test(path) ? { pattern_type: 'none' } : {}),
  });
  if (context.openInputSync(`file:${path}`, reader ? InputFormat.findInputFormat(reader) : null, options) < 0) return null;
  if (context.findStreamInfoSync(null) >= 0) return context;
  context.closeInputSync();
  return null;
}

/** What stands for "not told" in times of the library (AV_NOPTS_VALUE). */
export const NO_TIME = -(2n ** 63n);
