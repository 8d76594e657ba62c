/** The stock is asked, not loaded: what is asked of columns and counters is held against slow models that read everything. */
import { randomUUID } from 'node:crypto';
import { cpSync, mkdtempSync, readdirSync, renameSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import Database from 'better-sqlite3';
import fc from 'fast-check';
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { codecName } from '../../src/core/media/codec-traits';
import { fileName, type Item, type Place } from '../../src/core/media/item';
import { nameKey, sortKey } from '../../src/core/naming/sort-key';
import type { Wanted } from '../../src/core/planning/relink/relink';
import { stockOf } from '../../src/core/planning/plan/stock-view';
import { clipState, type Expected } from '../../src/core/project/clip';
import { Catalogue } from '../../src/server/catalogue/catalogue';
import type { Db } from '../../src/server/catalogue/db';
import { migrate, openDatabase } from '../../src/server/catalogue/database';
import type { StepState } from '../../src/server/catalogue/runs';
import { lookAt } from '../../src/server/projects/snapshot';
import { makeHouse, type SmallHouse } from '../helpers/small-house';
import { item as madeItem, SOUND, UNKNOWN } from '../helpers/snapshots';
import { bringSounds, copyStep, cutOf, cutTimeline, planOf, wavBytes } from '../helpers/trust-house';

let small: SmallHouse;
beforeEach(() => {
  small = makeHouse();
});
afterEach(() => small.remove());

function put(path: string, own: Partial<Item> = {}, facts: Partial<Item['facts']> = {}): Item {
  const made = madeItem(fileName(path), facts, { id: randomUUID(), place: { shelfId: small.source.id, path }, ...own });
  small.house.catalogue.items.put(made);
  return made;
}

describe('items are found', () => {
  const wanted = (expected: Partial<Expected>, aroundSeconds: number | null = null): Wanted => ({ key: 'k', expected: { ...UNKNOWN, ...expected }, aroundSeconds, told: null }); // prettier-ignore
  const find = (what: Wanted, scope: Place | null = null, shelves = [small.source.id, small.vault.id]) =>
    small.house.catalogue
      .finder(shelves, scope)
      .find(what)
      .items.map(({ place }) => place.path)
      .sort();

  it('as a look at all of them would, whatever is known', () => {
    const names = ['a.mov', 'A.MOV', 'la\u0308ute.wav', 'l\u00e4ute.wav'];
    const stock = fc.array(
      fc.record({
        name: fc.constantFrom(...names),
        folder: fc.constantFrom('', 'x/', 'x/y/', 'x-y/'),
        print: fc.constantFrom('2:p1:14/14', '2:p2:14/14', null),
        reel: fc.constantFrom('A001', 'a001', null),
        start: fc.constantFrom(0, 900_000, null),
      }),
      { maxLength: 12 },
    );
    const asked = fc.record({
      name: fc.constantFrom('', ...names),
      fingerprint: fc.constantFrom('2:p1:14/14', '2:p2:14/14', null),
      reel: fc.constantFrom('A001', null),
    });
    fc.assert(
      fc.property(stock, asked, fc.constantFrom(null, '', 'x', 'x/y'), (entries, expected, folder) => {
        const { items } = small.house.catalogue;
        items.markGone(items.onShelf(small.source.id), 'now', null);
        for (const { name, folder: at, print, reel, start } of entries) put(`${at}${name}`, { fingerprint: print }, { reel, startFrame: start });
        const inScope = ({ path }: Place) => folder === null || folder === '' || path.startsWith(`${folder}/`);
        const looked = items.onShelf(small.source.id).filter((one) => inScope(one.place));
        const same = looked.filter((one) => expected.fingerprint !== null && one.fingerprint === expected.fingerprint);
        const alike = looked.filter(
          (one) =>
            (expected.name !== '' && nameKey(fileName(one.place.path)) === nameKey(expected.name)) ||
            (expected.reel !== null && one.facts.reel?.toLowerCase() === expected.reel.toLowerCase()),
        );
        const all = same.length > 0 ? same : alike;
        expect(find(wanted(expected), folder === null ? null : { shelfId: small.source.id, path: folder })).toEqual(
          all.map((one) => one.place.path).sort(),
        );
      }),
      { numRuns: 60 },
    );
  });

  it('those alike in size or length before two hundred others of the name, and on a reel those nearest in time', () => {
    for (let index = 0; index < 200; index++)
      put(`c${index}/clip.mov`, { sizeBytes: index, fingerprint: null }, { durationFrames: index, reel: null });
    expect(find(wanted({ name: 'clip.mov', sizeBytes: 190, durationFrames: 180 }))).toEqual(
      expect.arrayContaining(['c190/clip.mov', 'c180/clip.mov']),
    );
    for (let index = 0; index < 200; index++)
      put(`r${index}.mov`, { fingerprint: null }, { startFrame: index * 250, reel: 'B7', durationFrames: 250 });
    const near = find(wanted({ reel: 'b7' }, 1005));
    expect(near).toEqual(expect.arrayContaining(['r100.mov', 'r101.mov', 'r99.mov']));
    expect(near.length).toBeLessThanOrEqual(40);
  });

  it('not where nobody may look, nor what is gone', () => {
    put('a.mov', { fingerprint: 'p' });
    expect(find(wanted({ fingerprint: 'p' }), null, [small.vault.id])).toEqual([]);
    expect(find(wanted({ fingerprint: 'p' }))).toEqual(['a.mov']);
    small.house.catalogue.items.markRemoved({ shelfId: small.source.id, path: 'a.mov' }, 'now');
    expect(find(wanted({ fingerprint: 'p', name: 'a.mov' }))).toEqual([]);
  });
});

it('a window of a shelf is a part of the list that one would filter and sort by hand', () => {
  const reels = ['A1', 'b2', null];
  for (let index = 0; index < 120; index++)
    put(
      `${index % 3 === 0 ? 'Läute' : 'day'}/take ${(index * 37) % 120}.${index % 4 === 0 ? 'wav' : 'mov'}`,
      { sizeBytes: (index * 7919) % 1000 },
      { ...(index % 4 === 0 ? SOUND : {}), reel: reels[index % 3]!, durationFrames: (index * 31) % 50 },
    );
  put('day/notes.txt', {}, { kind: 'other', rate: null, durationFrames: null, startFrame: null, reel: null, video: null });
  const { items } = small.house.catalogue;
  items.markRemoved({ shelfId: small.source.id, path: 'day/take 37.mov' }, 'now');
  const all = items.onShelf(small.source.id);
  const orders: Record<'path' | 'size' | 'reel' | 'length', (item: Item) => string | number> = {
    path: (item: Item) => sortKey(item.place.path),
    size: (item: Item) => item.sizeBytes,
    reel: (item: Item) => item.facts.reel?.toLowerCase() ?? '',
    length: (item: Item) => (item.facts.durationFrames === null || !item.facts.rate ? -1 : (item.facts.durationFrames * item.facts.rate.den) / item.facts.rate.num), // prettier-ignore
  };
  fc.assert(
    fc.property(
      fc.constantFrom('', 'take', 'LÄUTE 1', 'la\u0308ute', 'b2 mov', 'video', 'a%1', "'", '"x', 'pcm'),
      fc.constantFrom('path', 'size', 'reel', 'length'),
      fc.boolean(),
      fc.constantFrom(null, 'media' as const, ['.wav', '.txt']),
      fc.nat(40),
      fc.nat(140),
      (filter, sort, down, only, limit, offset) => {
        const words = filter.normalize('NFC').toLowerCase().split(/\s+/);
        const shown = all.filter(({ place, facts }) => {
          const codec = facts.video?.codec ?? facts.audio[0]?.codec ?? '';
          const told = [place.path.normalize('NFC'), facts.reel ?? '', codec, codec === '' ? '' : codecName(codec), facts.kind]
            .join(' ')
            .toLowerCase();
          const isIn = only === null || (only === 'media' ? facts.kind !== 'other' : only.some((ending) => place.path.endsWith(ending)));
          return isIn && words.every((word) => told.includes(word));
        });
        const { total, rows } = items.window(small.source.id, { filter, sort, down, only, limit, offset });
        expect(total).toBe(shown.length);
        expect(rows).toHaveLength(Math.min(limit, Math.max(0, total - offset)));
        // The same place in the order; those that are equal in it may stand in any.
        const order = orders[sort];
        const sorted = shown.map(order).sort((a, b) => (a < b ? -1 : a > b ? 1 : 0));
        if (down) sorted.reverse();
        expect(rows.map(order)).toEqual(sorted.slice(offset, offset + limit));
        const whole = items.window(small.source.id, { filter, sort, down, only, limit: 1000, offset: 0 }).rows.map(({ id }) => id);
        expect(rows.map(({ id }) => id)).toEqual(whole.slice(offset, offset + limit));
        expect([...whole].sort()).toEqual(shown.map(({ id }) => id).sort());
      },
    ),
    { numRuns: 150 },
  );
});

it('lists tell the state of every clip as the whole project does, whatever became of its files', async () => {
  const paths = Array.from({ length: 8 }, (_, index) => `f${index}.wav`);
  for (const [index, path] of paths.entries()) writeFileSync(join(small.source.root, path), wavBytes(4800, [], index));
  await small.stocktake(small.source.id);
  small.bring(cutTimeline('Cut', [...paths, 'nowhere.wav'].map((path) => cutOf(path, 0, 5)), 'Audio')); // prettier-ignore
  const { catalogue, mounts } = small.house;
  const told = async () =>
    (await lookAt(catalogue, mounts, small.projectId, (snapshot, lines) => {
      const [known, stock] = [lines(), stockOf(snapshot)];
      const whole = new Map(snapshot.clips.map((clip) => [clip.id, clipState(clip, stock)]));
      expect(known.clips.map((clip) => clip.id)).toEqual(snapshot.clips.map((clip) => clip.id));
      for (const clip of known.clips) expect([clip.name, clipState(clip, known)]).toEqual([clip.name, whole.get(clip.id)]);
      return [...new Set(whole.values())].sort();
    }))!;
  expect(await told()).toEqual(['missing', 'present']);
  writeFileSync(join(small.source.root, 'f1.wav'), wavBytes(9600, [], 70));
  rmSync(join(small.source.root, 'f2.wav'));
  catalogue.clips.setAside(small.projectId, [catalogue.clips.ofProject(small.projectId)[2]!.id], true);
  await small.stocktake(small.source.id);
  expect(await told()).toEqual(['changed', 'missing', 'present', 'set-aside']);
  renameSync(small.source.root, join(small.folder, '.away'));
  expect(await told()).toEqual(['set-aside', 'unplugged']);
  renameSync(join(small.folder, '.away'), small.source.root);
  catalogue.shelves.retire(small.source.id, 'now');
  expect(await told()).toEqual(['set-aside', 'unplugged']);
});

it('steps are counted as they change, whatever a run does with them', () => {
  const { runs } = small.house.catalogue;
  const slow = (runId: number) => {
    const steps = runs.steps(runId);
    const done = steps.filter(({ state }) => state === 'done');
    const sum = (list: typeof steps, value: (row: (typeof steps)[number]) => number) => list.reduce((total, row) => total + value(row), 0);
    return {
      steps: steps.length,
      done: done.length,
      failed: steps.filter(({ state }) => state === 'failed').length,
      expectedBytes: sum(steps, ({ step }) => step.expectedBytes),
      doneExpectedBytes: sum(done, ({ step }) => step.expectedBytes),
      doneBytes: sum(done, ({ step, outcome }) => outcome?.bytes ?? step.expectedBytes),
    };
  };
  writeFileSync(join(small.source.root, 'a'), 'abc');
  const step = { ...copyStep(small, 'a'), expectedBytes: 7 };
  const orders = fc.array(fc.tuple(fc.nat(3), fc.constantFrom('begin', 'finish', 'update', 'fail', 'skip', 'doubt', 'again', 'pending'), fc.nat(50)), { maxLength: 25 }); // prettier-ignore
  fc.assert(
    fc.property(orders, (list) => {
      const id = runs.add(planOf(small, [step, step, step, step]), 'now');
      for (const [ordinal, order, bytes] of list) {
        const outcome = { bytes, checked: 'x' };
        if (order === 'begin') runs.begin(id, ordinal, 'now');
        if (order === 'finish') runs.finish(id, ordinal, outcome, 'now');
        if (order === 'update' && runs.steps(id)[ordinal]!.state === 'done') runs.update(id, ordinal, outcome);
        if (order === 'fail' || order === 'skip') runs.fail(id, ordinal, order === 'fail' ? 'failed' : 'skipped', 'm', 'now');
        if (order === 'doubt') runs.doubt(id, ordinal, ordinal === 1 ? 'failed' : ('waiting' satisfies StepState), null);
        if (order === 'again') runs.again(id);
        if (order === 'pending') runs.setPending(id, ordinal, bytes > 25 ? outcome : null);
        expect(runs.counts(id)).toEqual(slow(id));
      }
    }),
    { numRuns: 60 },
  );
});

it('names sort as people expect: case and accents apart, numbers by their value', () => {
  const names = ['Take 10', 'take 2', 'Läute', 'laute 1', 'A001C003', 'A001C0011', 'A1', 'a', 'Z', 'été 12', 'ete 3', '007', '7', '70'];
  const collator = new Intl.Collator('en', { numeric: true, sensitivity: 'base' });
  fc.assert(
    fc.property(fc.constantFrom(...names), fc.constantFrom(...names), (a, b) => {
      const [x, y] = [sortKey(a), sortKey(b)];
      expect(Math.sign(x < y ? -1 : x > y ? 1 : 0)).toBe(Math.sign(collator.compare(a, b)));
    }),
  );
});

describe('a catalogue of an earlier version', () => {
  /** As it was before the columns were there. */
  function older(file: string): Db {
    const folder = mkdtempSync(join(tmpdir(), 'mill-older-'));
    cpSync('src/server/catalogue/migrations', folder, { recursive: true });
    for (const name of readdirSync(folder)) if (parseInt(name, 10) > 5) rmSync(join(folder, name));
    const db = new Database(file);
    migrate(db, `${folder}/`);
    rmSync(folder, { recursive: true });
    return db;
  }

  /** Copies the rows of a catalogue as far as the older one has their columns. */
  function copyRows(from: Db, to: Db, table: string): void {
    const known = (to.pragma(`table_info(${table})`) as { name: string }[]).map(({ name }) => name);
    const rows = from
      .prepare(`SELECT ${known.join(', ')} FROM ${table === 'timelines' ? 'timelines JOIN timeline_documents ON timeline_id = id' : table}`)
      .raw()
      .all() as unknown[][];
    const insert = to.prepare(`INSERT INTO ${table} (${known.join(', ')}) VALUES (${known.map(() => '?').join(', ')})`);
    for (const row of rows) insert.run(...row);
  }

  it('has everything in its columns after it is opened, as if it had been put there today', async () => {
    await bringSounds(small, 'one.wav', 'two.wav');
    small.bring(cutTimeline('Second', [cutOf('two.wav', 0, 3)], 'Audio'));
    put('x/Pour 2.mov');
    put('x/L\u00e4ute.wav', {}, SOUND);
    const { runs } = small.house.catalogue;
    const step = { ...copyStep(small, 'one.wav'), expectedBytes: 7 };
    const runId = runs.add(planOf(small, [step]), 'now'); // prettier-ignore
    runs.finish(runId, 0, { bytes: 5, checked: 'x' }, 'now');
    const today = openDatabase(join(small.folder, 'data/catalogue.sqlite'), true);
    const file = join(small.folder, 'older.sqlite');
    const before = older(file);
    for (const table of ['projects', 'shelves', 'items', 'clips', 'renditions', 'links', 'timelines', 'timeline_events', 'runs', 'run_steps'])
      copyRows(today, before, table);
    before.close();
    Catalogue.open(file).close();
    const after = openDatabase(file, true);
    for (const table of ['items', 'timelines', 'timeline_documents', 'timeline_events', 'timeline_reads', 'run_counts']) {
      // Since when an item is known is not told by an older one.
      const rows = (db: Db) =>
        db
          .prepare(`SELECT * FROM ${table} ORDER BY 1, 2`)
          .all()
          .map((row) => ({ ...(row as object), known_at: null }));
      expect(rows(after).length, table).toBeGreaterThan(0);
      expect(rows(after), table).toEqual(rows(today));
    }
    after.close();
    today.close();
  });
});
