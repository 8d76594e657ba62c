/** Which encoders the installed ffmpeg has; asked once. */
import { runTool } from './ffmpeg';

let asked: Promise<ReadonlySet<string> | null> | null = null;

/** Null where it does not say. */
export function installedEncoders(): Promise<ReadonlySet<string> | null> {
  asked ??= ask().then((found) => {
    // Asked again next time: ffmpeg may be installed meanwhile.
    if (found === null) asked = null;
    return found;
  });
  return asked;
}

async function ask(): Promise<ReadonlySet<string> | null> {
  try {
    const { exitCode, stdout } = await runTool('ffmpeg', ['-encoders'], { timeLimitMs: 20_000 });
    return exitCode === 0 ? encodersIn(stdout) : null;
  } catch {
    return null;
  }
}

/** A line each, after six letters of what it can do; a line of dashes before the first. */
export function encodersIn(list: string): ReadonlySet<string> {
  const lines = list.split('\n');
  const begin = lines.findIndex((line) => line.trim().startsWith('------'));
  const names = lines.slice(begin + 1).flatMap((line) => /^ [A-Z.]{6} (\S{1,80}) /.exec(line)?.[1] ?? []);
  return new Set(begin < 0 ? [] : names);
}
