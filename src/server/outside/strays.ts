/** Children of a command that left its group: known by a mark in their environment, which they inherit (Linux; elsewhere none are found). */
import { readdir, readFile } from 'node:fs/promises';

/** Name of the variable that carries the mark. */
export const MARK = 'MILL_SHELF_COMMAND';

/** Ends every process that bears the mark; what it starts meanwhile is looked for once more. */
export async function endStrays(mark: string): Promise<void> {
  for (let round = 0; round < 3; round++) {
    const found = await marked(`${MARK}=${mark}`);
    if (found.length === 0) return;
    for (const pid of found)
      try {
        process.kill(pid, 'SIGKILL');
      } catch {
        // It has ended by itself.
      }
  }
}

async function marked(entry: string): Promise<number[]> {
  const pids = await readdir('/proc').then((names) => names.filter((name) => /^\d+$/.test(name)).map(Number), () => []); // prettier-ignore
  const own = await Promise.all(
    pids.map(async (pid) => {
      if (pid === process.pid) return [];
      // Of other people's processes nothing is told.
      const environment = await readFile(`/proc/${pid}/environ`, 'utf8').catch(() => '');
      return environment.split('\0').includes(entry) ? [pid] : [];
    }),
  );
  return own.flat();
}
