/** Shelves that bear no marker: locked cards, shares that are only read, full drives. Known by their volume, or by what is on them where they stood. */
import { execFileSync } from 'node:child_process';
import { chmodSync, cpSync, existsSync, mkdirSync, readdirSync, renameSync, rmSync, symlinkSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { afterEach, beforeEach, expect, it } from 'vitest';
import { MARKER_NAME, writeMarker } from '../../src/server/stock/marker';
import { ConflictingShelf, registerShelf } from '../../src/server/stock/register-shelf';
import { bearsSign, contentSign, rootOfVolume, volumeSign, type Volumes } from '../../src/server/stock/shelf-sign';
import { makeHouse, openHouse, type SmallHouse } from '../helpers/small-house';
import { stockNow } from '../helpers/take-stock';
import { wavBytes } from '../helpers/trust-house';

let small: SmallHouse;
const unlock: (() => void)[] = [];
beforeEach(() => {
  small = makeHouse();
});
afterEach(() => {
  for (const again of unlock.splice(0).reverse()) again();
  small.remove();
});

/** Nothing can be written to it from here on: by rights, for root by a mount that is only read. */
function lock(folder: string): () => void {
  let open: () => void;
  if (process.getuid?.() === 0) {
    execFileSync('mount', ['--bind', folder, folder]);
    execFileSync('mount', ['-o', 'remount,ro,bind', folder]);
    open = () => execFileSync('umount', [folder]);
  } else {
    chmodSync(folder, 0o555);
    open = () => chmodSync(folder, 0o755);
  }
  let isOpen = false;
  const once = () => {
    if (!isOpen) open();
    isOpen = true;
  };
  unlock.push(once);
  return once;
}

function card(name: string, takes: readonly number[]): string {
  const root = join(small.folder, name);
  mkdirSync(join(root, 'SOUND'), { recursive: true });
  for (const take of takes) writeFileSync(join(root, 'SOUND', `take ${take}.wav`), wavBytes(2_000 + take, [], take));
  return root;
}

it('a locked card is added and read, nothing is written to it, and it is known again after a restart', async () => {
  const { catalogue, mounts } = small.house;
  const root = card('CARD', [1, 2, 3]);
  lock(root);
  const shelf = registerShelf(catalogue, mounts, root);
  expect(readdirSync(root)).toEqual(['SOUND']);
  expect(mounts.rootOf(shelf.id)).toBe(root);
  expect(await small.stocktake(shelf.id)).toMatchObject({ state: 'done', files: 3, problems: 0 });
  expect(registerShelf(catalogue, mounts, root).id).toBe(shelf.id);
  await small.house.close();
  const again = openHouse(small.folder);
  expect(again.mounts.rootOf(shelf.id)).toBe(root);
  expect(await stockNow(again, shelf.id)).toMatchObject({ state: 'done', files: 3, readFiles: 0 });
  await again.close();
});

it('another card at the same place is another, and a copy of it elsewhere is not taken for it', async () => {
  const { catalogue, mounts } = small.house;
  const root = card('CARD', [1, 2, 3]);
  const open = lock(root);
  const shelf = registerShelf(catalogue, mounts, root);
  await small.stocktake(shelf.id);
  open();
  const away = join(small.folder, 'away');
  renameSync(root, away);
  card('CARD', [4, 5, 6]);
  mounts.lookAgain();
  expect(mounts.rootOf(shelf.id)).toBeNull();
  expect(mounts.copiesOf(shelf.id)).toEqual([]);
  lock(root);
  const other = registerShelf(catalogue, mounts, root);
  expect(other.id).not.toBe(shelf.id);
  // The first one is there, but where it never stood: what lies on it could be a copy.
  expect(mounts.rootOf(shelf.id)).toBeNull();
  expect(mounts.shelfAt(away)).toBeNull();
  expect(catalogue.items.onShelf(shelf.id)).toHaveLength(3);
});

it('of a card that changed a little it is the same, of one that changed by half it is not; an empty one cannot be told', () => {
  const root = card('CARD', [1, 2, 3, 4]);
  const sign = contentSign(root)!;
  writeFileSync(join(root, 'SOUND', 'take 1.wav'), 'other');
  expect(bearsSign(root, sign)).toBe(true);
  rmSync(join(root, 'SOUND', 'take 2.wav'));
  expect(bearsSign(root, sign)).toBe(false);
  const empty = join(small.folder, 'EMPTY');
  mkdirSync(empty);
  lock(empty);
  expect(() => registerShelf(small.house.catalogue, small.house.mounts, empty)).toThrow(ConflictingShelf);
  expect(small.house.catalogue.shelves.list().map(({ name }) => name)).not.toContain('EMPTY');
});

it('whoever writes a marker to it later, it stays the shelf that it is', () => {
  const { catalogue, mounts } = small.house;
  const root = card('CARD', [1, 2, 3]);
  const open = lock(root);
  const shelf = registerShelf(catalogue, mounts, root);
  open();
  writeMarker(root, 'Of another house');
  mounts.lookAgain();
  expect(mounts.rootOf(shelf.id)).toBe(root);
  expect(registerShelf(catalogue, mounts, root).id).toBe(shelf.id);
});

it('a full drive is added too, and no half a marker stays on it', () => {
  const full = card('FULL', [1]);
  const parts = join(full, MARKER_NAME);
  if (process.getuid?.() === 0) {
    execFileSync('mount', ['-t', 'tmpfs', '-o', 'size=16k', 'tmpfs', full]);
    unlock.push(() => execFileSync('umount', [full]));
    try {
      writeFileSync(join(full, 'take.wav'), Buffer.alloc(1_000_000, 5));
    } catch {
      // As much as there is room for.
    }
  } else lock(full);
  const shelf = registerShelf(small.house.catalogue, small.house.mounts, full);
  expect(existsSync(parts)).toBe(false);
  expect(small.house.mounts.rootOf(shelf.id)).toBe(full);
});

it('a share is known by its name and the folder on it, wherever it is mounted', () => {
  const folder = card('mnt', [1]);
  const volumes = (at: string, root = '/', source = 'nas:/films'): Volumes => ({
    mountTable: [{ device: '0:51', root, at, type: 'nfs4', source }],
    byUuid: join(small.folder, 'none'),
  });
  const sign = volumeSign(join(folder, 'SOUND'), volumes(folder))!;
  expect(sign).toEqual({ kind: 'volume', volume: 'nfs4 nas:/films', path: 'SOUND' });
  const elsewhere = join(small.folder, 'elsewhere');
  renameSync(folder, elsewhere);
  expect(rootOfVolume(sign, volumes(elsewhere))).toBe(join(elsewhere, 'SOUND'));
  // Only that folder of it is mounted.
  expect(rootOfVolume(sign, volumes(join(elsewhere, 'SOUND'), '/SOUND'))).toBe(join(elsewhere, 'SOUND'));
  // Another share, another folder, and a folder of which the name only begins alike.
  expect(rootOfVolume(sign, volumes(elsewhere, '/', 'nas:/sound'))).toBeNull();
  cpSync(join(elsewhere, 'SOUND'), join(elsewhere, 'SOUND 2'), { recursive: true });
  expect(bearsSign(join(elsewhere, 'SOUND 2'), sign, volumes(elsewhere))).toBe(false);
  expect(bearsSign(join(elsewhere, 'SOUND'), sign, volumes(elsewhere))).toBe(true);
});

it('a disk is known by the identifier that the system gives its volume', () => {
  const disk = execFileSync('find', ['/dev', '-xdev', '-type', 'b']).toString().split('\n')[0]!;
  if (disk === '') return;
  const folder = card('disk', [1]);
  const byUuid = join(small.folder, 'by-uuid');
  mkdirSync(byUuid);
  symlinkSync(disk, join(byUuid, '1A2B-3C4D'));
  const volumes: Volumes = { mountTable: [{ device: '0:77', root: '/', at: folder, type: 'exfat', source: disk }], byUuid };
  expect(volumeSign(folder, volumes)).toEqual({ kind: 'volume', volume: 'uuid 1A2B-3C4D', path: '' });
  expect(volumeSign(folder, { ...volumes, byUuid: join(small.folder, 'none') })).toBeNull();
});
