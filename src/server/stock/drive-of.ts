/**
 * Which physical drive a folder lies on: two partitions of one disk, two volumes of one pool, two shares of one server are lost
 * together. Told by Linux (proc_pid_mountinfo(5), sysfs: /sys/dev/block); elsewhere each file system counts as a drive.
 */
import { existsSync, readdirSync, realpathSync, statSync } from 'node:fs';
import { basename, dirname, join } from 'node:path';
import { deviceNumber, isNetwork, mountOf, readMountTable, type Mounted } from './mount-table';

/** The same text for folders on one drive; undefined where nothing stands at the path. */
export function driveAt(root: string, mountTable: readonly Mounted[] = readMountTable(), devices = '/sys/dev/block'): string | undefined {
  const info = statSync(root, { throwIfNoEntry: false });
  if (!info) return undefined;
  const mounted = mountOf(realpathSync(root), mountTable);
  const own = String(info.dev);
  if (!mounted) return own;
  return serverOf(mounted) ?? diskBelow(blockOf(mounted, devices)) ?? own;
}

/** Shares of one server, as NFS ("nas:/one") and SMB ("//nas/one") name them. */
function serverOf({ type, source }: Mounted): string | null {
  const host = isNetwork(type) ? (/^\/\/([^/]+)\//.exec(source) ?? /^(.+?):/.exec(source))?.[1] : undefined;
  return host === undefined ? null : `server ${host.toLowerCase().split('@').at(-1)!}`;
}

/** Of a pool the number of its mount is made up: the device that it was mounted from is not. */
function blockOf({ device, source }: Mounted, devices: string): string | null {
  const direct = join(devices, device);
  if (existsSync(direct)) return realpathSync(direct);
  const number = source.startsWith('/dev/') ? deviceNumber(source) : null;
  const named = number === null ? null : join(devices, number);
  return named !== null && existsSync(named) ? realpathSync(named) : null;
}

/** Of a partition its disk; of an encrypted or joined volume what it lies on, the first of several. */
function diskBelow(block: string | null): string | null {
  if (block === null) return null;
  if (existsSync(join(block, 'partition'))) return diskBelow(dirname(block));
  const slaves = join(block, 'slaves');
  const [slave] = existsSync(slaves) ? readdirSync(slaves).sort() : [];
  return slave === undefined ? `disk ${basename(block)}` : diskBelow(realpathSync(join(slaves, slave)));
}
