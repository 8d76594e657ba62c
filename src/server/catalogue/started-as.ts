/**
 * A catalogue knows where it was started last. One that is started elsewhere is a copy, or was restored from a backup:
 * what it says is going on may have been finished, undone or removed since, perhaps by the one it is a copy of.
 */
import { createHash } from 'node:crypto';
import { readFileSync, realpathSync, statSync } from 'node:fs';
import { hostname } from 'node:os';
import { join } from 'node:path';

export interface StartedAs {
  /** The machine, by what its system tells it apart by. */
  readonly machine: string;
  /** What tells the data folder from others: no path is kept. */
  readonly folder: string;
  /** The file of the catalogue on its disk: a copy is another, also where it took the old name. */
  readonly file: string;
  readonly at: string;
}

export function startedAs(dataFolder: string, at: string): StartedAs {
  const folder = realpathSync(dataFolder);
  const { ino, dev } = statSync(join(folder, 'catalogue.sqlite'), { bigint: true });
  const known = createHash('sha256').update(folder).digest('hex').slice(0, 16);
  return { machine: machineId(), folder: known, file: `${dev}:${ino}`, at };
}

/** What tells that it is not where it was, in words; null while it is. */
export function movedSince(before: StartedAs | null, now: StartedAs): string | null {
  if (before === null) return null;
  if (before.machine !== now.machine) return 'on another machine';
  if (before.folder !== now.folder) return 'in another folder';
  // Numbers of disks change when a machine starts again; those of files do not.
  const inode = ({ file }: StartedAs) => file.slice(file.indexOf(':') + 1);
  return inode(before) === inode(now) ? null : 'from another file, which was put in its place';
}

function machineId(): string {
  for (const file of ['/etc/machine-id', '/var/lib/dbus/machine-id'])
    try {
      const id = readFileSync(file, 'utf8').trim();
      if (id !== '') return id;
    } catch {
      // Other systems have none.
    }
  return hostname();
}
