/** Sysfs as Linux lays it out (kernel documentation, sysfs rules: /sys/dev/block, partition, slaves), made up below a temporary folder. */
import { mkdirSync, mkdtempSync, realpathSync, rmSync, symlinkSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, expect, it } from 'vitest';
import { driveAt } from '../../src/server/stock/drive-of';
import type { Mounted } from '../../src/server/stock/mount-table';

const folder = realpathSync(mkdtempSync(join(tmpdir(), 'mill-drives-')));
afterAll(() => rmSync(folder, { recursive: true, force: true }));

const devices = join(folder, 'sys/dev/block');

function block(path: string, number: string, slave?: string): void {
  const at = join(folder, 'sys/devices', path);
  mkdirSync(at, { recursive: true });
  mkdirSync(devices, { recursive: true });
  symlinkSync(at, join(devices, number));
  if (/\d$/.test(path) && !path.startsWith('dm')) writeFileSync(join(at, 'partition'), '1\n');
  if (slave === undefined) return;
  mkdirSync(join(at, 'slaves'));
  symlinkSync(join(folder, 'sys/devices', slave), join(at, 'slaves', 'first'));
}

const mounted = (name: string, device: string, type: string, source: string): Mounted => {
  mkdirSync(join(folder, name), { recursive: true });
  return { device, root: '/', at: join(folder, name), type, source };
};

it('two partitions, an encrypted volume on a third, two shares of one server: each is one drive; other disks are others', () => {
  block('sda', '8:0');
  block('sda/sda1', '8:1');
  block('sda/sda2', '8:2');
  block('sda/sda3', '8:3');
  block('sdb', '8:16');
  block('sdb/sdb1', '8:17');
  block('dm-0', '253:0', 'sda/sda3');
  const table = [
    mounted('ONE', '8:1', 'ext4', '/dev/sda1'),
    mounted('TWO', '8:2', 'exfat', '/dev/sda2'),
    mounted('LOCKED', '253:0', 'ext4', '/dev/mapper/locked'),
    mounted('OTHER', '8:17', 'exfat', '/dev/sdb1'),
    mounted('SHARE-1', '0:41', 'nfs4', 'nas.local:/rushes'),
    mounted('SHARE-2', '0:42', 'cifs', '//NAS.local/sound'),
    mounted('ELSEWHERE', '0:43', 'nfs4', 'vault:/rushes'),
  ];
  const drive = (name: string) => driveAt(join(folder, name), table, devices);
  expect(['ONE', 'TWO', 'LOCKED', 'OTHER'].map(drive)).toEqual(['disk sda', 'disk sda', 'disk sda', 'disk sdb']);
  expect(['SHARE-1', 'SHARE-2', 'ELSEWHERE'].map(drive)).toEqual(['server nas.local', 'server nas.local', 'server vault']);
});

it('where the system tells nothing each file system is a drive; what is not there is none', () => {
  const [one, two] = ['A', 'B'].map((name) => driveAt((mounted(name, '', '', ''), join(folder, name)), []));
  expect(one).toMatch(/^\d+$/);
  expect(two).toBe(one);
  expect(driveAt(join(folder, 'NOWHERE'), [])).toBeUndefined();
});
