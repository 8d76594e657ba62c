/** Stocktakes as runs: held, taken up again after an end of the process, ended, and told apart from what changes files. */
import { renameSync, rmSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { THIS_MACHINE } from '../../src/server/runs/actor';
import { startStocktake, stocktakeView, takeStockOf } from '../../src/server/usecases/shelves';
import { makeHouse, openHouse, type SmallHouse } from '../helpers/small-house';
import { wavBytes } from '../helpers/trust-house';

const FILES = 24;
let small: SmallHouse;
beforeEach(() => {
  small = makeHouse();
  for (let index = 0; index < FILES; index++) writeFileSync(join(small.source.root, `s${index}.wav`), wavBytes(4800, [], index));
});
afterEach(() => small.remove());

const begin = () => takeStockOf(small.house, THIS_MACHINE, { id: small.source.id, name: 'FOUNDRY-A' });
const view = (house = small.house) => stocktakeView(house, small.source.id)!;
const untilSomeAreRead = () => vi.waitFor(() => expect(view().doneFiles).toBeGreaterThan(1), { timeout: 15_000, interval: 50 });

describe('a stocktake', () => {
  it('is one run a shelf, on the word of whoever began it, and no receipt among those that changed files', async () => {
    const { catalogue, runner } = small.house;
    const id = await begin();
    expect(await begin()).toBe(id);
    expect((await startStocktake(small.house, 'somebody', { shelfId: small.source.id })).runId).toBe(id);
    const run = await runner.finished(id);
    expect(run).toMatchObject({ state: 'done', kind: 'stocktake', actor: THIS_MACHINE });
    expect(view()).toMatchObject({ state: 'done', files: FILES, doneFiles: FILES, readFiles: FILES, goneFiles: 0, message: null });
    expect(catalogue.runs.step(id, 0).outcome!.checked).toBe('24 files seen, 24 read, 0 gone');
    const part = { filter: '', limit: 10, offset: 0 };
    expect(catalogue.runs.window(null, part).total).toBe(0);
    expect(catalogue.runs.window(null, part, true).rows.map((row) => row.id)).toEqual([id]);
  });

  it('tells what it found, and not what only moved as gone; one that found nothing is left out', async () => {
    const { catalogue, runner } = small.house;
    await runner.finished(await begin());
    await runner.finished(await begin());
    renameSync(join(small.source.root, 's0.wav'), join(small.source.root, 'moved.wav'));
    rmSync(join(small.source.root, 's1.wav'));
    writeFileSync(join(small.source.root, 'new.wav'), wavBytes(4800, [], FILES + 1));
    await runner.finished(await begin());
    expect(catalogue.stocktakes.changesSeen(small.source.id, 10).map(({ at: _at, ...found }) => found)).toEqual([
      { read: 1, moved: 1, gone: 1 },
      { read: FILES, moved: 0, gone: 0 },
    ]);
    expect(catalogue.stocktakes.changesSeen(small.vault.id, 10)).toEqual([]);
  });

  it('that is asked for while one goes on sees what was laid there, and taken away, after its folders were walked', async () => {
    const id = await begin();
    await untilSomeAreRead();
    writeFileSync(join(small.source.root, 'late.wav'), wavBytes(4800, [], FILES));
    expect(await begin()).toBe(id);
    expect((await small.house.runner.finished(id)).state).toBe('done');
    expect(view()).toMatchObject({ files: FILES + 1, readFiles: FILES + 1, goneFiles: 0 });
    const path = (name: string) => small.house.catalogue.items.onShelf(small.source.id).some((item) => item.place.path === name);
    expect(path('late.wav')).toBe(true);
    // Over, or about to be: another looks.
    rmSync(join(small.source.root, 'late.wav'));
    const next = await begin();
    expect(next).toBeGreaterThan(id);
    await small.house.runner.finished(next);
    expect(view().goneFiles).toBe(1);
  });

  it('stands still while it is paused, and goes on where it was', async () => {
    const { runner } = small.house;
    const id = await begin();
    await untilSomeAreRead();
    expect(runner.pause(id)).toBe(true);
    // What was in hand comes to its end.
    let held = -1;
    await vi.waitFor(
      async () => {
        const before = small.house.catalogue.items.onShelf(small.source.id).length;
        await new Promise((done) => setTimeout(done, 600));
        held = small.house.catalogue.items.onShelf(small.source.id).length;
        expect(held).toBe(before);
      },
      { timeout: 10_000 },
    );
    expect(held).toBeLessThan(FILES);
    expect(view().state).toBe('paused');
    runner.resume(id);
    expect((await runner.finished(id)).state).toBe('done');
    expect(view()).toMatchObject({ state: 'done', doneFiles: FILES });
  });

  it('that is cancelled keeps what it read, takes nothing for gone, and can be resumed', async () => {
    const { runner, catalogue } = small.house;
    const id = await begin();
    await untilSomeAreRead();
    runner.cancel(id);
    expect((await runner.finished(id)).state).toBe('cancelled');
    expect(catalogue.runs.step(id, 0).message).toBe('Cancelled; what was read until then is kept.');
    const kept = catalogue.items.onShelf(small.source.id).length;
    expect(kept).toBeGreaterThan(0);
    runner.resume(id);
    expect((await runner.finished(id)).state).toBe('done');
    expect(view()).toMatchObject({ doneFiles: FILES, readFiles: FILES - kept });
  });

  it('that is asked for while the one before is being cancelled is another, and comes to its end', async () => {
    const id = await begin();
    await untilSomeAreRead();
    small.house.runner.cancel(id);
    const next = await begin();
    expect(next).toBeGreaterThan(id);
    expect([(await small.house.runner.finished(id)).state, (await small.house.runner.finished(next)).state]).toEqual(['cancelled', 'done']);
    expect(view()).toMatchObject({ state: 'done', doneFiles: FILES });
  });

  it('of a shelf that was taken off the list is not gone on with', async () => {
    const { runner, catalogue } = small.house;
    const id = await begin();
    await untilSomeAreRead();
    runner.cancel(id);
    await runner.finished(id);
    catalogue.shelves.retire(small.source.id, '2026-12-01T00:00:00Z');
    runner.resume(id);
    expect((await runner.finished(id)).state).toBe('failed');
    expect(catalogue.runs.step(id, 0).message).toContain('taken off the list');
  });

  it('whose drive goes away fails with words, and is taken again', async () => {
    const { runner } = small.house;
    const id = await begin();
    await untilSomeAreRead();
    renameSync(small.source.root, `${small.source.root}-away`);
    expect((await runner.finished(id)).state).toBe('failed');
    expect(view().message).toContain('nothing was taken for gone');
    renameSync(`${small.source.root}-away`, small.source.root);
    expect(await begin()).not.toBe(id);
    await runner.finished(id + 1);
    expect(view()).toMatchObject({ state: 'done', files: FILES, goneFiles: 0, message: null });
  });

  it('that was going when the process ended is taken up by the next', async () => {
    const id = await begin();
    await untilSomeAreRead();
    await small.house.close();
    const house = openHouse(small.folder);
    try {
      expect(house.catalogue.runs.get(id)!.state).toBe('running');
      house.runner.recover();
      expect((await house.runner.finished(id)).state).toBe('done');
      expect(view(house)).toMatchObject({ doneFiles: FILES });
      expect(view(house).readFiles).toBeLessThan(FILES);
    } finally {
      await house.close();
    }
  });
});
