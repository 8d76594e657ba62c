/** What the kind of a shelf forbids, and what it makes plans warn of. */
import { existsSync, mkdirSync, mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterEach, beforeEach, expect, it } from 'vitest';
import type { ShelfKind } from '../../src/core/media/shelf-kind';
import { STANDARD_CARDS } from '../../src/core/media/card';
import { THIS_MACHINE } from '../../src/server/runs/actor';
import { likelyKind } from '../../src/server/stock/likely-kind';
import { editShelf } from '../../src/server/usecases/shelves';
import { makeHouse, type SmallHouse } from '../helpers/small-house';
import { put, sortSettings } from '../helpers/sort-house';
import { wavBytes } from '../helpers/trust-house';

let small: SmallHouse;

beforeEach(async () => {
  small = makeHouse();
  for (const [index, name] of ['one.wav', 'two.wav'].entries()) put(small.source.root, `Rushes/${name}`, wavBytes(4800, [], index));
  await small.stocktake(small.source.id);
});

afterEach(() => small.remove());

const setKind = (shelfId: string, kind: ShelfKind) => editShelf(small.house, THIS_MACHINE, { shelfId, kind });
const sortOf = (action: 'move' | 'copy', from = small.source.id, to = small.vault.id) => small.plan({ kind: 'sort', settings: sortSettings(to, { action, scope: { of: 'folder', place: { shelfId: from, path: '' } } }) }); // prettier-ignore
const fileSteps = ({ steps }: Awaited<ReturnType<typeof sortOf>>) => steps.filter(({ action }) => action !== 'link').map(({ action }) => action);

it('from a card and an archive files are copied, never moved', async () => {
  for (const kind of ['card', 'archive', 'tape'] as const) {
    setKind(small.source.id, kind);
    expect(fileSteps(await sortOf('move'))).not.toContain('move');
    expect(fileSteps(await sortOf('copy'))).toEqual(['copy', 'copy']);
  }
  setKind(small.source.id, 'working');
  expect(fileSteps(await sortOf('move'))).toEqual(['move', 'move']);
});

it('to a card nothing is written, to an archive files are added', async () => {
  setKind(small.vault.id, 'card');
  expect(await sortOf('copy')).toMatchObject({ blocked: 'VAULT is a camera card: no file on it is written.', steps: [] });
  setKind(small.vault.id, 'archive');
  expect((await sortOf('copy')).blocked).toBeNull();
});

it('what was made on a drive that became an archive is not taken back, nor is a run of before gone on with', async () => {
  const { house } = small;
  const id = house.runner.submit(await sortOf('move'));
  expect((await house.runner.finished(id)).state).toBe('done');
  setKind(small.vault.id, 'archive');
  const undo = await small.plan({ kind: 'undo', settings: { runId: id } });
  expect(undo.blocked).toBe('VAULT is an archive: no file on it is moved, renamed or removed.');
  setKind(small.vault.id, 'working');
  // One that was cancelled before its first step, and is resumed under another kind.
  const back = house.runner.submit(await small.plan({ kind: 'undo', settings: { runId: id } }));
  house.runner.cancel(back);
  expect((await house.runner.finished(back)).state).toBe('cancelled');
  setKind(small.vault.id, 'archive');
  expect(() => house.runner.resume(back)).toThrow('VAULT is an archive');
  expect(existsSync(join(small.vault.root, 'Test'))).toBe(true);
});

it('while a run uses a shelf its kind stays', async () => {
  const { house } = small;
  const id = house.runner.submit(await sortOf('copy'));
  house.runner.pause(id);
  expect(() => setKind(small.source.id, 'card')).toThrow(`Run ${id} uses FOUNDRY-A just now.`);
  house.runner.resume(id);
  await house.runner.finished(id);
  setKind(small.source.id, 'card');
  expect(house.catalogue.shelves.get(small.source.id)?.kind).toBe('card');
});

it('warns where files would be on a travel drive alone, not where a copy is kept elsewhere', async () => {
  setKind(small.vault.id, 'travel');
  const warned = await sortOf('move');
  expect(warned.findings[0]).toMatchObject({ code: 'only-on-travel', message: '2 files would be on VAULT alone, and that is a travel drive.' });
  put(small.source.root, 'Kept/one.wav', wavBytes(4800, [], 0));
  await small.stocktake(small.source.id);
  const one = await small.plan({ kind: 'sort', settings: sortSettings(small.vault.id, { scope: { of: 'folder', place: { shelfId: small.source.id, path: 'Rushes' } } }) }); // prettier-ignore
  expect(one.findings[0]!.message).toBe('1 file would be on VAULT alone, and that is a travel drive.');
  expect((await sortOf('copy')).findings.map(({ code }) => code)).not.toContain('only-on-travel');
});

it('a folder is a camera card by the tree at its root, not by one deeper in it', () => {
  const folder = mkdtempSync(join(tmpdir(), 'mill-kind-'));
  try {
    const kinds = ['DCIM/100BRONZ', 'PRIVATE/AVCHD/BDMV/STREAM', 'Day 1/DCIM/100BRONZ', 'DCIM/My pictures', 'Rushes'].map((path, index) => {
      mkdirSync(join(folder, String(index), path), { recursive: true });
      return likelyKind(join(folder, String(index)), STANDARD_CARDS);
    });
    expect(kinds).toEqual(['card', 'card', 'working', 'working', 'working']);
  } finally {
    rmSync(folder, { recursive: true, force: true });
  }
});
