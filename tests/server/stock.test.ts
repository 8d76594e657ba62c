/** Shelves on real folders: known again elsewhere, refused outside, simulated drives; and the catalogue's schema. */
import { cpSync, mkdirSync, mkdtempSync, readFileSync, renameSync, rmSync, symlinkSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import Database from 'better-sqlite3';
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { CatalogueError, openDatabase } from '../../src/server/catalogue/database';
import { ConfigError, readConfig } from '../../src/server/config';
import { DriveBay } from '../../src/server/devices/drive-bay';
import { fingerprintSamples } from '../../src/core/media/fingerprint';
import { fingerprintFile } from '../../src/server/stock/fingerprint-file';
import { attachedRoots, Mounts, placeBelow, PlaceError } from '../../src/server/stock/mounts';
import { ConflictingShelf, registerShelf } from '../../src/server/stock/register-shelf';
import { walkShelf } from '../../src/server/stock/walk';
import { makeHouse, type SmallHouse } from '../helpers/small-house';

let small: SmallHouse;
beforeEach(() => {
  small = makeHouse();
});
afterEach(() => small.remove());

describe('a shelf', () => {
  it('is known again under another mount path, and by a new start', () => {
    const { mounts } = small.house;
    const moved = join(small.folder, 'mnt', 'sdb1');
    mkdirSync(join(small.folder, 'mnt'));
    renameSync(small.source.root, moved);
    mounts.lookAgain();
    expect(mounts.rootOf(small.source.id)).toBe(moved);
    const again = new Mounts(join(small.folder, 'data', 'mounts.json'), [small.folder], null);
    expect(again.rootOf(small.source.id)).toBe(moved);
    expect(placeBelow(join(moved, 'Day 1/a.mov'), attachedRoots(again, [small.source.id, small.vault.id]))).toEqual({
      shelfId: small.source.id,
      path: 'Day 1/a.mov',
    });
  });

  it('that another drive stands in for is not taken for it', () => {
    renameSync(small.source.root, join(tmpdir(), `away-${process.pid}`));
    mkdirSync(small.source.root);
    small.house.mounts.lookAgain();
    expect(small.house.mounts.rootOf(small.source.id)).toBeNull();
    expect(() => small.house.mounts.resolve({ shelfId: small.source.id, path: 'a' })).toThrow(PlaceError);
    rmSync(join(tmpdir(), `away-${process.pid}`), { recursive: true });
  });

  it.each(['../x', 'a/../../x', '/etc/passwd', 'a//b', './a', 'a\0b'])('does not resolve %j', (path) => {
    expect(() => small.house.mounts.resolve({ shelfId: small.source.id, path })).toThrow('leaves its shelf');
  });

  it('is registered once, keeps its id, and never outside the allowed roots', () => {
    const { catalogue, mounts } = small.house;
    expect(registerShelf(catalogue, mounts, small.source.root, 'New name')).toMatchObject({ id: small.source.id, name: 'New name' });
    const outside = mkdtempSync(join(tmpdir(), 'mill-outside-'));
    symlinkSync(outside, join(small.folder, 'link'));
    for (const path of [outside, join(small.folder, 'link'), join(small.folder, 'nowhere')])
      expect(() => registerShelf(catalogue, mounts, path)).toThrow(ConflictingShelf);
    rmSync(outside, { recursive: true });
  });

  it('is walked without hidden files, half-made files and links; names that are no text are told', async () => {
    const { root } = small.source;
    writeFileSync(join(root, '.hidden'), '');
    writeFileSync(join(root, '.run1-0.mill-part'), '');
    writeFileSync(join(root, 'seen.txt'), 'x');
    symlinkSync('/etc/passwd', join(root, 'link.txt'));
    writeFileSync(Buffer.concat([Buffer.from(`${root}/`), Buffer.from([0xff, 0xfe])]), '');
    const { files, unreadable } = await walkShelf(root);
    expect(files.map((file) => file.path)).toEqual(['seen.txt']);
    expect(unreadable).toHaveLength(1);
  });

  it('a fingerprint tells files apart that differ at either end or in a place it looks at, or in length', async () => {
    const base = Buffer.alloc(1_000_000, 1);
    const prints = new Set<string>();
    for (const at of [
      null,
      10,
      ...fingerprintSamples(base.length)
        .slice(1, -1)
        .map(({ offset }) => offset + 9),
      999_990,
    ]) {
      const bytes = Buffer.from(base);
      if (at !== null) bytes[at] = 2;
      writeFileSync(join(small.folder, 'f'), bytes);
      prints.add(await fingerprintFile(join(small.folder, 'f'), bytes.length));
    }
    writeFileSync(join(small.folder, 'f'), Buffer.alloc(1_000_001, 1));
    prints.add(await fingerprintFile(join(small.folder, 'f'), 1_000_001));
    expect(prints.size).toBe(16);
  });
});

describe('the simulated drive bay', () => {
  it('fills up, goes away and comes back', async () => {
    const bay = new DriveBay(join(small.folder, 'bay'));
    const root = bay.add({ name: 'TINY', capacityBytes: 1000 });
    writeFileSync(join(root, 'a'), 'x'.repeat(400));
    expect(await bay.space(root)).toEqual({ capacityBytes: 1000, freeBytes: 600 });
    expect(await bay.space(small.folder)).toBeNull();
    expect(bay.setPlugged('TINY', false)).toBe(true);
    expect(bay.drives()).toEqual([{ name: 'TINY', capacityBytes: 1000, plugged: false }]);
    expect(() => readFileSync(join(root, 'a'))).toThrow('ENOENT');
    expect(bay.setPlugged('TINY', true)).toBe(true);
    expect(readFileSync(join(root, 'a'), 'utf8')).toHaveLength(400);
    expect(bay.setPlugged('../TINY', false)).toBe(false);
  });
});

describe('the catalogue', () => {
  it('refuses one made by a newer version, with advice, and opens its own again', () => {
    const file = join(small.folder, 'c.sqlite');
    openDatabase(file).close();
    openDatabase(file).close();
    const db = new Database(file);
    db.pragma('user_version = 999');
    db.close();
    expect(() => openDatabase(file)).toThrow(CatalogueError);
  });

  it('is strict, holds to its references, and knows no absolute path', async () => {
    const db = openDatabase(':memory:');
    expect(() => db.exec("INSERT INTO items (id, shelf_id, path, size_bytes, modified_ms, facts) VALUES ('i', 'no shelf', 'p', 1, 1, '{}')")).toThrow(
      'FOREIGN KEY',
    );
    expect(() => db.exec("INSERT INTO shelves (id, name, registered_at, capacity_bytes) VALUES ('s', 'n', 'now', 'many')")).toThrow();
    db.close();
    writeFileSync(join(small.source.root, 'a.txt'), 'x');
    await small.stocktake(small.source.id);
    const copy = join(small.folder, 'copy.sqlite');
    cpSync(join(small.folder, 'data', 'catalogue.sqlite'), copy);
    cpSync(join(small.folder, 'data', 'catalogue.sqlite-wal'), `${copy}-wal`);
    const raw = new Database(copy);
    const tables = raw.prepare("SELECT name FROM sqlite_master WHERE type = 'table'").pluck().all() as string[];
    for (const table of tables) expect(JSON.stringify(raw.prepare(`SELECT * FROM ${table}`).all())).not.toContain(small.folder);
    raw.close();
  });
});

describe('the configuration', () => {
  it('takes flags before the environment, and says what is wrong', () => {
    const config = readConfig(['--port', '5000', '--roots', '/a', '--roots', '/b'], { MILL_SHELF_PORT: '6000', MILL_SHELF_DATA: '/data' });
    expect(config).toMatchObject({ port: 5000, roots: ['/a', '/b'], dataFolder: '/data', host: '127.0.0.1', bayFolder: null });
    expect(readConfig([], { MILL_SHELF_ROOTS: '/x:/y' }).roots).toEqual(['/x', '/y']);
    expect(() => readConfig(['--port', 'many'], {})).toThrow(ConfigError);
    expect(() => readConfig(['--frobnicate'], {})).toThrow('Flags:');
  });
});
