import { complaint, inputArguments, runTool } from '../../../media/ffmpeg';
import { CutUnproven } from './cutter';

/** MD5 of the decoded samples [start, end) of one sound stream; null bounds take all. */
export async function soundHash(
  path: string,
  stream: number,
  codec: string,
  part: { start: number; end: number } | null,
  signal?: AbortSignal,
): Promise<string> {
  const filter = part ? ['-af', `atrim=start_pts=${part.start}:end_pts=${part.end}`] : [];
  const result = await runTool(
    'ffmpeg',
    [...inputArguments(path), '-map', `0:a:${stream}`, ...filter, '-c:a', codec, '-f', 'hash', '-hash', 'md5', '-'],
    signal ? { signal } : {},
  );
  if (/matches no streams/.test(result.stderr)) throw new CutUnproven('there is no sound in that part');
  if (result.exitCode !== 0) throw new CutUnproven(`its sound could not be compared: ${complaint(result.stderr)}`);
  return result.stdout.trim();
}
