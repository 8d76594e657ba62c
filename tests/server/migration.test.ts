/** A catalogue made by an earlier version opens, and nothing in it is lost. */
import Database from 'better-sqlite3';
import { mkdtempSync, readdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join, resolve } from 'node:path';
import { afterAll, describe, expect, it } from 'vitest';
import { Catalogue } from '../../src/server/catalogue/catalogue';
import { CatalogueError, migrate, openDatabase } from '../../src/server/catalogue/database';
import { watchedFolders } from '../../src/server/projects/watched-folders';

const folder = mkdtempSync(join(tmpdir(), 'mill-migration-'));
afterAll(() => rmSync(folder, { recursive: true }));

function firstSchema(file: string): Database.Database {
  const db = new Database(file);
  db.exec(readFileSync(resolve('src/server/catalogue/migrations/001_first.sql'), 'utf8'));
  db.pragma('user_version = 1');
  return db;
}

describe('the catalogue of the first version', () => {
  it('keeps clips, links and events; the bins they lay in stand on their own now', () => {
    const file = join(folder, 'old.sqlite');
    const old = firstSchema(file);
    old.exec(`
      INSERT INTO projects VALUES ('p', 'Bronze Hour', 25, 1, 0, 'then', 'then');
      INSERT INTO clips (id, project_id, name, bin_path, media_key) VALUES ('c', 'p', 'Ladle', 'Day 1/Hall', 'k'), ('d', 'p', 'Fork', '', 'k2');
      INSERT INTO renditions VALUES ('r', 'c', 'source');
      INSERT INTO links VALUES ('r', 0, NULL, NULL, 'a.mov', '{"name":"a.mov","reel":"A001"}');
      INSERT INTO timelines VALUES ('t', 'p', 'Cut', 'otio', 'cut.otio', 'then', '{}', '[]');
      INSERT INTO timeline_events VALUES ('t', 0, 'c');
    `);
    old.close();
    const catalogue = Catalogue.open(file);
    const clips = catalogue.clips.ofProject('p');
    expect(clips.map((clip) => [clip.name, clip.binPath, clip.note, clip.conform, clip.madeBy, clip.mediaKey])).toEqual([
      ['Fork', '', '', 'by-time', 'timeline', 'k2'],
      ['Ladle', 'Day 1/Hall', '', 'by-time', 'timeline', 'k'],
    ]);
    expect(clips[1]!.renditions[0]!.links[0]!.expected.reel).toBe('A001');
    expect(catalogue.bins.ofProject('p')).toEqual([{ path: 'Day 1/Hall', colour: '', note: '' }]);
    expect(catalogue.timelines.eventClips('t')).toEqual({ clipIds: ['c'], positions: [null] });
    expect(catalogue.clips.unused('p')).toEqual(['d']);
    catalogue.close();
    // Opened again it is up to date: nothing is applied twice.
    Catalogue.open(file).close();
  });

  it('items, runs and clips of the user’s work come along; what must be read again is known', () => {
    const file = join(folder, 'second.sqlite');
    const old = firstSchema(file);
    old.exec(readFileSync(resolve('src/server/catalogue/migrations/002_bins.sql'), 'utf8'));
    old.pragma('user_version = 2');
    const sequence = { prefix: 'f.', suffix: '.dpx', padding: 4, firstNumber: 1, lastNumber: 9, missingNumbers: [3, 4, 7] };
    old.exec(`
      INSERT INTO shelves (id, name, registered_at) VALUES ('s', 'FOUNDRY-A', 'then');
      INSERT INTO items VALUES ('i', 's', 'f.[0001-0009].dpx', 9, 1, 'print', '${JSON.stringify({ kind: 'sequence', audio: [], sequence })}', NULL, NULL);
      INSERT INTO projects VALUES ('p', 'Bronze Hour', 25, 1, 0, 'then', 'then');
      INSERT INTO clips (id, project_id, name, bin_path, media_key, note) VALUES ('c', 'p', 'Ladle', '', 'k', 'cracked'), ('d', 'p', 'Fork', '', 'k2', '');
      INSERT INTO runs (id, kind, title, state, plan, created_at) VALUES (1, 'pull', 'Pull', 'failed', '{}', 'then');
      INSERT INTO run_steps (run_id, ordinal, step, state) VALUES (1, 0, '{"action":"copy"}', 'failed');
    `);
    old.close();
    const catalogue = Catalogue.open(file);
    const [known] = catalogue.items.knownOn('s');
    expect(known!.item.facts.sequence!.missingRuns).toEqual([[3, 4], [7, 7]]); // prettier-ignore
    expect([known!.isCurrent, known!.item.identity]).toEqual([false, null]);
    expect(catalogue.runs.steps(1)).toMatchObject([{ state: 'failed', pending: null }]);
    expect(catalogue.runs.get(1)).toMatchObject({ undoneBy: null, undoingBy: null });
    // The noted clip is the user's work, the other is not.
    catalogue.clips.removeUnused(['c', 'd']);
    expect(catalogue.clips.ofProject('p').map((clip) => clip.id)).toEqual(['c']);
    catalogue.close();
  });

  it('one made by a newer version is refused with advice, and left as it is', () => {
    const file = join(folder, 'new.sqlite');
    const db = firstSchema(file);
    db.pragma('user_version = 999');
    db.close();
    expect(() => openDatabase(file)).toThrow(CatalogueError);
    expect(() => openDatabase(file)).toThrow(/newer Mill Shelf \(schema 999/);
  });

  it('is kept beside as it was before it is changed for good, whole; of those that pile up the last three stay', () => {
    const file = join(folder, 'kept.sqlite');
    const old = firstSchema(file);
    old.exec("INSERT INTO projects VALUES ('p', 'Bronze Hour', 25, 1, 0, 'then', 'then')");
    old.close();
    for (const earlier of [7, 8, 9]) writeFileSync(`${file}.before-${earlier}`, 'of an earlier upgrade');
    const catalogue = Catalogue.open(file);
    const { schema } = catalogue;
    catalogue.close();
    const copies = readdirSync(folder).filter((name) => name.startsWith('kept.sqlite.before-')).sort(); // prettier-ignore
    expect(copies).toEqual([`kept.sqlite.before-${schema}`, 'kept.sqlite.before-8', 'kept.sqlite.before-9']);
    const copy = new Database(join(folder, copies[0]!), { readonly: true });
    expect([copy.pragma('user_version', { simple: true }), copy.prepare('SELECT name FROM projects').pluck().all(), copy.pragma('integrity_check', { simple: true })]).toEqual([1, ['Bronze Hour'], 'ok']); // prettier-ignore
    copy.close();
    // A new one holds nothing that could be lost.
    Catalogue.open(join(folder, 'fresh.sqlite')).close();
    expect(readdirSync(folder).filter((name) => name.startsWith('fresh.sqlite.before-'))).toEqual([]);
  });

  it('two changes of one number are refused before anything is touched', () => {
    const own = mkdtempSync(join(tmpdir(), 'mill-twice-'));
    for (const name of ['001_first.sql', '002_bells.sql', '002_ladles.sql']) writeFileSync(join(own, name), `CREATE TABLE t${name[2]} (a);`);
    const db = new Database(':memory:');
    expect(() => migrate(db, own)).toThrow(/number 2, of which one is 002_ladles/);
    expect(db.prepare('SELECT count(*) FROM sqlite_master').pluck().get()).toBe(0);
    rmSync(own, { recursive: true });
  });

  it('crates, their doubts and their timelines, the wish for proxies, the own folder and the watched ones, come along', () => {
    const file = join(folder, 'crates.sqlite');
    const db = new Database(file);
    const names = readdirSync(resolve('src/server/catalogue/migrations')).filter((name) => parseInt(name, 10) < 24).sort(); // prettier-ignore
    for (const name of names) db.exec(readFileSync(resolve('src/server/catalogue/migrations', name), 'utf8'));
    db.pragma('user_version = 23');
    const report = JSON.stringify({
      action: 'write',
      content: { type: 'made', what: 'crate-report', label: { timelineNames: ['Reel 1', 'Reel 2'] } },
    });
    db.exec(`
      INSERT INTO projects (id, name, rate_num, rate_den, drop_frame, created_at, used_at) VALUES ('p', 'Bronze Hour', 25, 1, 0, 'then', 'then');
      INSERT INTO runs (id, kind, title, state, plan, created_at, project_id) VALUES (1, 'crate', 'Crate', 'done', '{}', 'then', 'p');
      INSERT INTO run_steps (run_id, ordinal, step, state) VALUES (1, 0, '${report}', 'done');
      INSERT INTO crates (id, project_id, run_id, name, shelf_id, path, files, bytes, made_at, found) VALUES ('c', 'p', 1, 'Sealed', 's', 'Sealed', 3, 9, 'then', 'a file too many');
      INSERT INTO remembered VALUES ('p', 'proxies', '{"presetId":"pocket"}'), ('p', 'proxies-after-stocktake', '{"wished":true}'),
        ('p', 'sort', '{"destination":{"shelfId":"s","path":"Work"},"rootName":"{project}","watched":[{"shelfId":"s","path":"in"}]}');
    `);
    db.close();
    const catalogue = Catalogue.open(file);
    expect(catalogue.crates.ofProject('p')).toMatchObject([{ id: 'c', name: 'Sealed', found: 'a file too many' }]);
    expect(catalogue.crates.marksOf('c').map(({ mark, words }) => [mark, words])).toEqual([
      ['made', null],
      ['doubted', 'a file too many'],
    ]);
    expect(catalogue.crates.carriedBy('c').timelines.map(({ name }) => name)).toEqual(['Reel 1', 'Reel 2']);
    expect(catalogue.automations.on('proxies-after-stocktake')).toEqual([{ projectId: 'p', settings: { presetId: 'pocket' } }]);
    expect(catalogue.runs.get(1)?.actor).toBe('this machine');
    expect(Object.keys(catalogue.projects.remembered('p'))).toEqual(['proxies', 'sort']);
    expect(catalogue.projects.remembered('p').sort).not.toHaveProperty('watched');
    expect(catalogue.projects.get('p')!.ownFolder).toEqual({ shelfId: 's', path: 'Work/Bronze Hour' });
    expect(watchedFolders(catalogue, 'p')).toEqual([{ shelfId: 's', path: 'in' }]);
    catalogue.close();
  });
});
