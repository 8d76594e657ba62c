/** What grows is a table: each of these adds something of its own by one entry, and the house does with it what it does with all others. */
import { mkdirSync, mkdtempSync, readdirSync, rmSync, statSync, utimesSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import Joi from 'joi';
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import type { ArchiveFormat } from '../../src/core/archive/archive-format';
import { ARCHIVE_FORMATS, archiveAt } from '../../src/core/archive/archive-formats';
import { readTimelineFile } from '../../src/core/interchange/read-timeline-file';
import { TIMELINE_FORMATS } from '../../src/core/interchange/timeline-formats';
import { CUT_CONTAINERS, whyNotCut } from '../../src/core/media/cut-rules';
import type { Place } from '../../src/core/media/item';
import type { Step } from '../../src/core/planning/plan/step';
import { ownShelf, type Action } from '../../src/server/actions/action';
import { ACTIONS } from '../../src/server/actions/actions';
import { makersOf } from '../../src/server/actions/makers';
import { CUTTERS, cutterFor } from '../../src/server/actions/trim/cutters/cutters';
import { Caches } from '../../src/server/caches/cache';
import { folderCache } from '../../src/server/caches/folder-cache';
import { defineKind } from '../../src/server/kinds/kind';
import { KINDS, type PlanRequest } from '../../src/server/kinds/kinds';
import type { QuestionOf } from '../../src/server/questions/question';
import { QUESTIONS, type Question } from '../../src/server/questions/questions';
import { Study } from '../../src/server/questions/study';
import { makeHouse, type SmallHouse } from '../helpers/small-house';
import { copyStep, endOf, go, planOf } from '../helpers/trust-house';
import { PREVIEW_FOLDER } from '../../src/server/media/previews';

let small: SmallHouse;
beforeEach(() => {
  small = makeHouse();
});
afterEach(() => small.remove());

/** As one line in a table would. */
function withLine<T>(table: object, name: string, entry: object, work: () => Promise<T>): Promise<T> {
  Object.assign(table, { [name]: entry });
  return work().finally(() => delete (table as Record<string, unknown>)[name]);
}

/** Sets the time of writing of a file; knows the state before, and takes it back. */
interface TouchStep {
  readonly action: 'touch';
  readonly phase: number;
  readonly from: Place;
  readonly to: null;
  readonly expectedBytes: number;
  readonly bytesExact: true;
  readonly reason: string;
  readonly mustHold: null;
  readonly atMs: number;
}

const touch = (from: Place, atMs: number, phase = 0) =>
  ({ action: 'touch', phase, from, to: null, expectedBytes: 0, bytesExact: true, reason: 'the day of the card', mustHold: null, atMs }) as const;
const asStep = (step: TouchStep) => step as unknown as Step;

const touchAction = {
  execute({ from, atMs }: TouchStep, { places }: { places: { resolve: (place: Place) => string } }) {
    const path = places.resolve(from);
    const before = statSync(path).mtimeMs;
    utimesSync(path, atMs / 1000, atMs / 1000);
    return Promise.resolve({ bytes: 0, checked: `was ${before}` });
  },
  occupies: (step: TouchStep) => [ownShelf(asStep(step))],
  undo({ step, state, outcome }: { step: TouchStep; state: string; outcome: { checked: string } | null }, phase: number) {
    return state === 'done' ? asStep(touch(step.from, Number(outcome!.checked.slice('was '.length)), phase)) : null;
  },
} as unknown as Action<Step>;

it('an action by a folder and a line: run, journalled, undone, and its undo does not say that nothing was touched', () =>
  withLine(ACTIONS, 'touch', touchAction, async () => {
    const path = join(small.source.root, 'one.wav');
    writeFileSync(path, 'RIFF');
    utimesSync(path, 1_000, 1_000);
    const from = { shelfId: small.source.id, path: 'one.wav' };
    // The second fails in its middle: what the first did is taken back all the same.
    const missing = { ...from, path: 'nobody.wav' };
    const run = await go(small, planOf(small, [touch(from, 5_000_000), touch(missing, 5_000_000)].map(asStep)));
    expect([run.run.state, statSync(path).mtimeMs]).toEqual(['failed', 5_000_000]);
    const undo = await small.plan({ kind: 'undo', settings: { runId: run.id } });
    expect(undo.lines.map(({ label }) => label)).not.toContain('Originals');
    expect((await go(small, undo)).run.state).toBe('done');
    expect(statSync(path).mtimeMs).toBe(1_000_000);
    expect(small.house.catalogue.runs.get(run.id)?.undoneBy).not.toBeNull();
  }));

it('an action of a later version fails its own step with words, and leaves the rest', async () => {
  writeFileSync(join(small.source.root, 'a.bin'), 'a');
  const odd = asStep(touch({ shelfId: small.source.id, path: 'a.bin' }, 1));
  const copy = copyStep(small, 'a.bin');
  const { run, rows } = await endOf(small, small.house.runner.submit(planOf(small, [odd, copy])));
  expect([run.state, rows.map(({ state, message }) => [state, message])]).toEqual([
    'failed',
    [
      ['failed', 'This version of Mill Shelf cannot do "touch".'],
      ['done', null],
    ],
  ]);
  const undo = await small.plan({ kind: 'undo', settings: { runId: run.id, confirmed: true } });
  expect(undo.steps.map(({ action }) => action)).toEqual(['remove', 'link']);
});

it('a kind by a folder and a line', () => {
  const counting = defineKind<{ least: number }, { shelves: number }>()({
    form: Joi.object<{ least: number }>({ least: Joi.number().required() }),
    undoable: false,
    plan: ({ catalogue, projectId }) =>
      Promise.resolve({
        kind: 'counting',
        title: 'Count',
        projectId,
        headline: { value: 2, of: 2, unit: 'files', words: 'here' },
        lines: [],
        fills: [],
        findings: [],
        steps: [],
        blocked: null,
        detail: { shelves: catalogue.shelves.list().length },
      }),
    toTell: ({ detail }) => ({ ...detail, words: 'two' }),
  });
  return withLine(KINDS, 'counting', counting, async () => {
    const request = { kind: 'counting', settings: { least: 1 } } as unknown as PlanRequest;
    const { plan } = await new Study(small.house.catalogue, small.house.mounts).answer({ ask: 'plan', projectId: small.projectId, request });
    expect(plan.detail).toEqual({ shelves: 2, words: 'two' });
  });
});

it('a question by a line: kept while nothing is another that it is made of', () => {
  let asked = 0;
  const greeting: QuestionOf<{ readonly name: string }, { readonly words: string }> = {
    lane: 'look',
    madeOf: ({ catalogue }) => catalogue.shelves.list().length.toString(),
    answer: (_, { name }) => ({ words: `Good morning, ${name} (${++asked})` }),
  };
  return withLine(QUESTIONS, 'greeting', greeting, async () => {
    const study = new Study(small.house.catalogue, small.house.mounts);
    const ask = () => study.answerJson({ ask: 'greeting', name: 'Ladle' } as unknown as Question);
    expect([await ask(), await ask()]).toEqual(Array(2).fill('{"words":"Good morning, Ladle (1)"}'));
    small.house.catalogue.shelves.retire(small.vault.id, new Date().toISOString());
    expect(await ask()).toContain('(2)');
  });
});

it('a format of timelines by a folder and a line', () => {
  const [otio] = TIMELINE_FORMATS;
  const bells = { ...otio!, id: 'bells', recognises: (text: string) => text.startsWith('DING'), read: () => ({ timelines: [], clips: [], findings: [] }) }; // prettier-ignore
  const rate = { num: 25, den: 1 };
  expect(readTimelineFile('DING DONG', rate, {}, [...TIMELINE_FORMATS, bells]).format).toBe('bells');
  expect(readTimelineFile('DING DONG', rate).findings[0]).toMatchObject({ code: 'timeline-unknown-format' });
});

it('a format of archives by a folder and a line', () => {
  const chest: ArchiveFormat = { ...ARCHIVE_FORMATS[0]!, id: 'chest', mark: 'chest.json' };
  expect(archiveAt((name) => name === 'chest.json', [...ARCHIVE_FORMATS, chest])?.id).toBe('chest');
  expect(archiveAt((name) => name === 'chest.json')).toBeUndefined();
  expect(archiveAt((name) => name === 'bagit.txt')?.id).toBe('bagit');
});

it('a cutter by a folder and a line; every container that the core lets cut has one', () => {
  const [mov] = CUTTERS;
  expect(CUT_CONTAINERS.filter((container) => !cutterFor(container))).toEqual([]);
  expect(cutterFor('matroska', [...CUTTERS, { ...mov!, containers: ['matroska'] }])?.containers).toEqual(['matroska']);
  const facts = { kind: 'video', container: 'matroska', audio: [] } as never;
  expect([whyNotCut(facts), whyNotCut(facts, [{ container: 'matroska', kind: 'video', why: () => null }])]).toEqual(['in MATROSKA', null]);
});

describe('caches', () => {
  const folder = mkdtempSync(join(tmpdir(), 'mill-caches-'));

  it('one by a line: listed with what it takes to make it again, and cleared; files of others stay', async () => {
    writeFileSync(join(folder, 'a.jpg'), 'abc');
    writeFileSync(join(folder, 'letter.txt'), 'of somebody');
    writeFileSync(join(folder, 'b.jpg.part'), 'in the making');
    const caches = new Caches();
    const cache = folderCache('waveforms', 'a moment each', folder, (name) => name.includes('.jpg'));
    caches.register(cache);
    expect(() => caches.register(cache)).toThrow('two caches');
    expect(await caches.now()).toMatchObject([{ name: 'waveforms', again: 'a moment each', files: 2, bytes: 16 }]);
    expect([await caches.clear('waveforms'), await caches.clear('nobody')]).toEqual([3, null]);
    expect(statSync(join(folder, 'letter.txt')).size + statSync(join(folder, 'b.jpg.part')).size).toBe(24);
    rmSync(folder, { recursive: true });
  });

  it('the house knows its own', async () => {
    expect((await small.house.caches.now()).map(({ name }) => name)).toEqual(['posters', 'previews', 'previews at home', 'samples', 'uploads']);
    // A project has them at home on a drive: listed and cleared like any other, what lies beside them stays.
    const { house, projectId, vault } = small;
    const home = join(vault.root, 'Caches');
    mkdirSync(join(home, PREVIEW_FOLDER), { recursive: true });
    const preview = join(home, PREVIEW_FOLDER, `${'a'.repeat(64)}.mp4`);
    writeFileSync(preview, 'moving');
    writeFileSync(join(home, PREVIEW_FOLDER, 'letter.txt'), 'of somebody');
    house.catalogue.projects.setHomes(projectId, { cache: { shelfId: vault.id, path: 'Caches' } });
    const atHome = async () => (await house.caches.now()).find(({ name }) => name === 'previews at home')!;
    expect(await atHome()).toMatchObject({ files: 1, bytes: 6 });
    expect(await house.caches.clear('previews at home')).toBe(6);
    expect([await atHome(), readdirSync(join(home, PREVIEW_FOLDER))]).toMatchObject([{ files: 0 }, ['letter.txt']]);
  });
});

it('two changes of one name, and one that is made with many but needs the disks, are refused at the start', () => {
  const make = () => ({ bytes: 0, checked: '' });
  expect(() => makersOf([{ a: { make } }, { a: { make } }], [])).toThrow('Two kinds bring along "a"');
  expect(() => makersOf([{ a: { make, standsAlone: true, onDisk: { at: () => [], work: () => Promise.resolve() } } }], [])).toThrow('nobody looks');
  expect(() => makersOf([], []).change('of later')).toThrow('cannot do "of later"');
});
