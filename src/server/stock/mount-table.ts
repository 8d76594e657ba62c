/** What is mounted where, as Linux tells it. */
import { readFileSync, realpathSync, statSync } from 'node:fs';
import { isInside } from './inside';

export interface Mounted {
  readonly device: string;
  /** Path on its file system that is mounted, and where. */
  readonly root: string;
  readonly at: string;
  /** Type of the file system: "ext4", "exfat". */
  readonly type: string;
  /** What was mounted: a device, a share, or a word where it is neither. */
  readonly source: string;
}

/** proc_pid_mountinfo(5): device, root and mount point are fields 3, 4 and 5; type and source follow a lone hyphen. Empty elsewhere. */
export function readMountTable(file = '/proc/self/mountinfo'): Mounted[] {
  try {
    return readFileSync(file, 'utf8')
      .split('\n')
      .flatMap((line): Mounted[] => {
        const fields = line.split(' ');
        const [, , device, root, at] = fields.map(unescapeOctal);
        const [type = '', source = ''] = fields.slice(fields.indexOf('-', 6) + 1);
        return device !== undefined && root !== undefined && at !== undefined ? [{ device, root, at, type, source: unescapeOctal(source) }] : [];
      });
  } catch {
    return [];
  }
}

/** What a real path lies on; of several mounts of one place the last. Undefined where that is not told. */
export function mountOf(real: string, mountTable: readonly Mounted[]): Mounted | undefined {
  return mountTable.filter(({ at }) => isInside(at, real)).reduce<Mounted | undefined>((best, own) => (best && best.at.length > own.at.length ? best : own), undefined); // prettier-ignore
}

/** Type of the file system that a folder lies on; null where the system does not tell. */
export function fileSystemOf(folder: string, mountTable = readMountTable()): string | null {
  try {
    return mountOf(realpathSync(folder), mountTable)?.type ?? null;
  } catch {
    return null;
  }
}

/** Whether a type of file system is that of a network's drives. */
export function isNetwork(type: string): boolean {
  return /^(nfs|cifs|smb|sshfs|fuse\.sshfs|afp|9p)/.test(type);
}

/** Number of a block device as the table of mounts writes it, "8:1"; null of what is none (makedev(3): how it is packed). */
export function deviceNumber(path: string): string | null {
  const info = path.startsWith('/') ? statSync(path, { throwIfNoEntry: false }) : undefined;
  return info?.isBlockDevice() ? `${Math.floor(info.rdev / 256) & 0xfff}:${(info.rdev & 0xff) | ((info.rdev >> 12) & 0xfff00)}` : null;
}

/** Blanks and backslashes in paths are written as \\040 and so on. */
function unescapeOctal(text: string): string {
  return text.replace(/\\([0-7]{3})/g, (_, digits: string) => String.fromCharCode(parseInt(digits, 8)));
}
