/**
 * The reader's own process: opens files by the library, which is compiled code that reads what strangers wrote. What ends
 * it ends nothing else. Answers one question after the other; see media-reader.ts.
 */
import { Log } from 'node-av/lib';
import { AV_LOG_QUIET } from 'node-av/constants';
import { keyFramesByLibrary } from './key-frames-by-library';
import { pictureComes, type Moment } from './picture-comes';
import { probeByLibrary } from './probe-by-library';

export type Asked =
  { readonly probe: string } | { readonly picture: Moment } | { readonly keyFrames: { readonly file: string; readonly container: string } };

Log.setLevel(AV_LOG_QUIET);

function answerTo(asked: Asked): unknown {
  if ('probe' in asked) return probeByLibrary(asked.probe);
  return 'picture' in asked ? pictureComes(asked.picture) : keyFramesByLibrary(asked.keyFrames.file, asked.keyFrames.container);
}

process.on('message', (asked: Asked) => {
  let answer: unknown = null;
  try {
    answer = answerTo(asked);
  } catch {
    // Whoever asks has another to ask.
  }
  process.send!(answer);
});
process.on('disconnect', () => process.exit());
// It has started.
process.send!(null);
