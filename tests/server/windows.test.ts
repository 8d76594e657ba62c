/** Lists in windows: each is a part of what one would filter and sort by hand, and nothing of it is sent that nobody looks at. */
import { join } from 'node:path';
import { randomUUID } from 'node:crypto';
import { mkdirSync, readFileSync, renameSync, unlinkSync, writeFileSync } from 'node:fs';
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import type { Plan } from '../../src/core/planning/plan/plan';
import type { PullSettings } from '../../src/core/planning/pull/settings';
import type { RelinkDetail } from '../../src/core/planning/relink/relink';
import type { RelinkSettings } from '../../src/core/planning/relink/settings';
import type { TakenDetail, TakenLine, TakenRow } from '../../src/core/planning/taking/taken';
import type { TakeMethod } from '../../src/core/planning/taking/used-media';
import { reportUsage } from '../../src/core/usage/usage-report';
import { changeClips } from '../../src/core/project/bins';
import type { ItemUsageView } from '../../src/server/projects/views/usage';
import type { ClipView } from '../../src/server/projects/views/clip';
import { openDatabase } from '../../src/server/catalogue/database';
import type { Window } from '../../src/core/lists/list-window';
import { CLIP_SORTS, type ClipQuery } from '../../src/server/projects/clip-views';
import { KINDS } from '../../src/server/kinds/kinds';
import type { PlanView } from '../../src/server/kinds/plan-views';
import { takeSnapshot } from '../../src/server/projects/snapshot';
import { MAKERS } from '../../src/server/kinds/kinds';
import { stepView } from '../../src/server/actions/step-views';
import { USAGE_SORTS } from '../../src/server/projects/usage-views';
import { Study } from '../../src/server/questions/study';
import { ALL_CLIPS, ALL_USAGE, clipsSeen, makeHouse, type SmallHouse } from '../helpers/small-house';
import { bringSounds, copyStep, cutOf, cutTimeline, endOf, go, planOf, pullSettings, wavBytes } from '../helpers/trust-house';

let small: SmallHouse;
beforeEach(() => {
  small = makeHouse();
});
afterEach(() => small.remove());

const study = () => new Study(small.house.catalogue, small.house.mounts);
const clipsBy = async (query: Partial<ClipQuery>) =>
  await study().answer({ ask: 'clips', projectId: small.projectId, query: { ...ALL_CLIPS, ...query } });
const namesOf = ({ rows }: Window<{ name: string }>) => rows.map(({ name }) => name);

describe('clips', () => {
  beforeEach(async () => {
    await bringSounds(small, 'Ladle.wav', 'bell.wav', 'GLÜHEND.wav', 'cope 2.wav', 'cope 10.wav');
    const { catalogue } = small.house;
    const clips = catalogue.clips.ofProject(small.projectId);
    const state = { bins: [{ path: 'Rushes', colour: '', note: '' }, { path: 'Rushes/Day 1', colour: '', note: '' }, { path: 'Rushes-2', colour: '', note: '' }], clips }; // prettier-ignore
    catalogue.bins.edit(small.projectId, 'make', { putBins: state.bins, dropBins: [], putClips: [], dropClips: [] });
    const put = (at: number, binPath: string, note: string) => catalogue.bins.edit(small.projectId, 'put', changeClips(state, [clips[at]!.id], { binPath, note })); // prettier-ignore
    put(0, 'Rushes', 'the fire');
    put(1, 'Rushes/Day 1', '');
    put(2, 'Rushes-2', 'Fire again');
  });

  it('every filter, bin and order gives a part of the same list', async () => {
    const all = await clipsSeen(small);
    expect(all).toHaveLength(5);
    for (const filter of ['', 'wav', 'FIRE', 'glühend', 'glu\u0308hend', 'cope 1', 'nothing'])
      for (const bin of ['', 'Rushes', 'Rushes-2', 'Rush'])
        for (const sort of CLIP_SORTS)
          for (const down of [false, true]) {
            const words = filter.normalize('NFC').toLowerCase().split(' ');
            const inBin = ({ binPath }: ClipView) => bin === '' || binPath === bin || binPath.startsWith(`${bin}/`);
            const fitting = all.filter((clip) => inBin(clip) && words.every((word) => `${clip.name} ${clip.fileName} ${clip.note}`.toLowerCase().includes(word))); // prettier-ignore
            const whole = await clipsBy({ filter, bin, sort, down });
            expect([...namesOf(whole)].sort(), `${filter} ${bin}`).toEqual(fitting.map(({ name }) => name).sort());
            const part = await clipsBy({ filter, bin, sort, down, limit: 2, offset: 1 });
            expect(part).toEqual({ total: fitting.length, rows: whole.rows.slice(1, 3) });
          }
    expect(namesOf(await clipsBy({ sort: 'file', filter: 'cope' }))).toEqual(['cope 2.wav', 'cope 10.wav']);
  });

  it('by their ids, and by their state', async () => {
    const [first, second] = await clipsSeen(small);
    expect(namesOf(await clipsBy({ ids: [second!.id, first!.id, 'nobody'] }))).toEqual([first!.name, second!.name]);
    expect(await clipsBy({ ids: [] })).toEqual({ total: 0, rows: [] });
    expect((await clipsBy({ state: 'present' })).total).toBe(5);
    small.house.catalogue.clips.setAside(small.projectId, [first!.id], true);
    expect((await clipsBy({ state: 'offline' })).total).toBe(0);
  });

  it('bins tell what lies in them and what of that no timeline uses, bins below counted', async () => {
    const { timelines, clips } = small.house.catalogue;
    const [timeline] = timelines.entries(small.projectId);
    timelines.remove(small.projectId, timeline!.id);
    expect(clips.ids(small.projectId)).toHaveLength(5);
    const told = (await study().answer({ ask: 'bins', projectId: small.projectId })) as { bins: readonly { path: string; clips: number; unused: number }[]; clips: number; unused: number }; // prettier-ignore
    expect([told.clips, told.unused]).toEqual([5, 5]);
    expect(told.bins.map(({ path, clips: own, unused }) => [path, own, unused])).toEqual([['Rushes', 1, 2], ['Rushes/Day 1', 1, 1], ['Rushes-2', 1, 1]]); // prettier-ignore
  });
});

it('usage comes in parts of the report, in every order, whatever was asked before', async () => {
  await bringSounds(small, 'one.wav', 'two.wav', 'three.wav');
  const snapshot = (await takeSnapshot(small.house.catalogue, small.house.mounts, small.projectId))!;
  const timelineIds = snapshot.timelines.map(({ id }) => id);
  const report = reportUsage(snapshot, { timelineIds, bins: [], clipIds: [], countDisabled: true });
  const asking = study();
  for (const sort of USAGE_SORTS)
    for (const down of [false, true]) {
      const ask = (part: object) => asking.answer({ ask: 'usage', projectId: small.projectId, request: { ...ALL_USAGE, list: 'used', sort, down, ...part } }); // prettier-ignore
      const whole = (await ask({})) as Window<ItemUsageView>;
      expect([...namesOf(whole)].sort()).toEqual(report.items.map(({ name }) => name).sort());
      expect(await ask({ limit: 1, offset: 2 })).toEqual({ total: 3, rows: whole.rows.slice(2) });
      expect(await ask({ filter: 'ONE wav', offset: 0 })).toMatchObject({ total: 1, rows: [{ name: 'one.wav' }] });
    }
  const never = { ...ALL_USAGE, timelineIds: [], list: 'never' as const };
  expect(((await asking.answer({ ask: 'usage', projectId: small.projectId, request: never })) as Window<ItemUsageView>).total).toBe(3);
});

it('a copy of a project reads the same of its own clips; what cannot be read as it was kept is read from the document', async () => {
  await bringSounds(small, 'one.wav', 'two.wav');
  const { catalogue } = small.house;
  const usageOf = async (projectId: string) => {
    const { rows } = (await study().answer({ ask: 'usage', projectId, request: { ...ALL_USAGE, list: 'used' } })) as Window<ItemUsageView>;
    return rows.map(({ key, used, useCount, clips }) => ({ key, used, useCount, clips: clips.map(({ name }) => name) }));
  };
  const expected = await usageOf(small.projectId);
  expect(expected.map(({ useCount }) => useCount)).toEqual([1, 1]);
  catalogue.projects.add({ id: 'copy', name: 'Copy', rate: { num: 25, den: 1 }, dropFrame: false, createdAt: 'now' });
  catalogue.timelines.duplicate(small.projectId, 'copy', catalogue.clips.duplicate(small.projectId, 'copy', randomUUID), randomUUID);
  expect(await usageOf('copy')).toEqual(expected);
  const [timeline] = catalogue.timelines.entries('copy');
  const own = new Set(catalogue.clips.ids('copy'));
  expect(catalogue.timelines.readsOf(timeline!.id)!.clipIds.every((id) => own.has(id))).toBe(true);
  const file = openDatabase(join(small.folder, 'data/catalogue.sqlite'), true);
  file.prepare('UPDATE timeline_reads SET reads = ?').run(Buffer.from('of another time'));
  file.close();
  expect(catalogue.timelines.readsOf(timeline!.id)).toBeUndefined();
  expect(await usageOf('copy')).toEqual(expected);
});

describe('runs', () => {
  it('are found by the words of their titles and the steps by paths, results and checksums, in any letters', async () => {
    writeFileSync(join(small.source.root, 'GLÜHEND.wav'), wavBytes(400));
    writeFileSync(join(small.source.root, 'bell.wav'), wavBytes(500));
    const titles = ['Copy the ÖFEN', 'Copy the bells', 'Tidy'];
    for (const [index, title] of titles.entries()) {
      const steps = [copyStep(small, 'GLÜHEND.wav', `${index}/GLÜHEND.wav`), copyStep(small, 'bell.wav', `${index}/bell.wav`)];
      await go(small, { ...planOf(small, steps), title });
    }
    const { runs } = small.house.catalogue;
    const list = (filter: string, limit = 10, offset = 0) => {
      const { total, rows } = runs.window(small.projectId, { filter, limit, offset });
      return [total, rows.map(({ title }) => title)];
    };
    expect(list('')).toEqual([3, [...titles].reverse()]);
    expect(list('', 1, 1)).toEqual([3, ['Copy the bells']]);
    expect(list('öfen copy')).toEqual([1, ['Copy the ÖFEN']]);
    expect(runs.window('another', { filter: '', limit: 10, offset: 0 })).toEqual({ total: 0, rows: [] });
    expect(runs.window(null, { filter: '', limit: 10, offset: 0 }).total).toBe(3);
    const [last] = runs.window(small.projectId, { filter: '', limit: 1, offset: 0 }).rows;
    const steps = (filter: string, limit = 10, offset = 0) => {
      const { total, rows } = runs.stepWindow(last!.id, { filter, limit, offset });
      return [total, rows.map(({ step }) => step.to!.path)];
    };
    expect(steps('')).toEqual([2, ['2/GLÜHEND.wav', '2/bell.wav']]);
    expect(steps('', 1, 1)).toEqual([2, ['2/bell.wav']]);
    for (const found of ['glühend', 'glu\u0308hend', 'WAV glüh']) expect(steps(found), found).toEqual([1, ['2/GLÜHEND.wav']]);
    const { rows } = await endOf(small, last!.id);
    expect(steps(rows[1]!.outcome!.sha256!.slice(0, 12).toUpperCase())).toEqual([1, ['2/bell.wav']]);
    expect(steps('100%')).toEqual([0, []]);
  });

  it('a step that made many files tells the first of them and how many there are', () => {
    const files = Array.from({ length: 250 }, (_, index) => ({ name: `f.${index}.dpx`, bytes: 1, sha256: String(index) }));
    const row = { ordinal: 0, step: copyStep(small, '.'), state: 'done' as const, outcome: { bytes: 250, checked: 'all', files }, pending: null, message: null, startedAt: null, endedAt: null }; // prettier-ignore
    const view = stepView(row, MAKERS);
    expect([view.fileCount, view.outcome!.files!.length, view.outcome!.files![99]!.name]).toEqual([250, 100, 'f.99.dpx']);
    expect(stepView({ ...row, outcome: null }, MAKERS).fileCount).toBeNull();
  });
});

describe('a relink of many clips', () => {
  const settings = (own: Partial<RelinkSettings> = {}) => ({ kind: 'relink' as const, settings: { scope: null, choices: {}, ...own } });
  const MANY = 110;

  beforeEach(async () => {
    const names = Array.from({ length: MANY }, (_, index) => `take ${index}.wav`);
    // Larger than what is sampled of them: the same file at another place is found, not known by every byte.
    names.forEach((name, index) => writeFileSync(join(small.source.root, name), wavBytes(120_000, [], index)));
    await small.stocktake(small.source.id);
    small.bring(cutTimeline('Many', names.map((name) => cutOf(name, 0, 10)), 'Audio')); // prettier-ignore
    mkdirSync(join(small.source.root, 'moved'));
    names.forEach((name) => renameSync(join(small.source.root, name), join(small.source.root, 'moved', name)));
    // The last of them is another file by now: its name and size agree, no more.
    const last = readFileSync(join(small.source.root, 'moved', names.at(-1)!));
    last.fill(0x11, last.length >> 1);
    writeFileSync(join(small.source.root, 'moved', names.at(-1)!), last);
    await small.stocktake(small.source.id);
  });

  it('sends the sheet, the begin of its steps and reasons, and the rest as it is looked at', async () => {
    const asking = study();
    const { plan } = (await asking.answer({ ask: 'plan', projectId: small.projectId, request: settings() })) as { plan: PlanView<RelinkDetail> };
    expect([plan.steps.length, plan.stepCounts, plan.headline.value]).toEqual([100, { link: MANY - 1 }, MANY - 1]);
    const whole = (await small.plan(settings())) as Plan<RelinkDetail>;
    for (const [index, group] of whole.detail.groups.entries()) {
      const told = plan.detail.groups[index]!;
      expect([told.count, told.chosen, told.findable, told.proven]).toEqual([
        group.rows.length,
        group.rows.filter((row) => row.chosen !== null).length,
        group.rows.filter((row) => row.matches[0] && row.matches[0].strength !== 'offered').length,
        group.rows.filter((row) => row.matches[0]?.strength === 'proven').length,
      ]);
      expect(told.rows).toEqual(group.rows.slice(0, told.rows.length));
      expect(told.rows.length).toBe(Math.min(100, group.rows.length));
      const window = (query: object) => asking.answer({ ask: 'plan-rows', projectId: small.projectId, request: settings(), group: group.key, query: { filter: '', sort: 'name', down: false, limit: 50, offset: 90, ...query } }); // prettier-ignore
      expect(await window({})).toEqual({ total: group.rows.length, rows: group.rows.slice(90, 140) });
      const found = group.rows.filter((row) => row.name.includes('10'));
      expect(await window({ filter: 'WAV 10', offset: 0 })).toEqual({ total: found.length, rows: found });
    }
    await expect(asking.answer({ ask: 'plan-rows', projectId: small.projectId, request: settings(), group: 'none', query: { filter: '', sort: 'name', down: false, limit: 1, offset: 0 } })).rejects.toThrow('no such reason'); // prettier-ignore

    // One word settles all clips of a reason; what was said of one of them wins.
    const { groups } = (await small.plan(settings())).detail as RelinkDetail;
    const [group] = groups;
    const all = { [group!.key]: 'leave' as const };
    expect((await small.plan(settings({ reasons: all }))).steps).toEqual([]);
    const one = group!.rows[3]!;
    const chosen = await small.plan(settings({ reasons: all, choices: { [one.key]: one.matches[0]!.itemId } }));
    expect(chosen.steps).toHaveLength(1);
    const taken = await small.plan(settings({ reasons: { [group!.key]: 'take' }, choices: { [one.key]: null } }));
    expect(taken.steps).toHaveLength(group!.findable - 1);
    expect((await small.plan(settings({ reasons: { elsewhere: 'take' } }))).steps).toHaveLength(MANY - 1);

    // It is made once for sheet, rows and run, and anew as soon as anything is another.
    const ask = async () => ((await asking.answer({ ask: 'plan', projectId: small.projectId, request: settings() })) as { plan: Plan<RelinkDetail> }).plan.detail.offline; // prettier-ignore
    expect(await ask()).toBe(MANY);
    renameSync(join(small.source.root, 'moved/take 7.wav'), join(small.source.root, 'take 7.wav'));
    await small.stocktake(small.source.id);
    expect(await ask()).toBe(MANY - 1);
    const [clip] = (await clipsBy({ filter: 'take 9.wav' })).rows;
    small.house.catalogue.clips.setAside(small.projectId, [clip!.id], true);
    const [aside] = ((await asking.answer({ ask: 'plan', projectId: small.projectId, request: settings() })) as { plan: Plan<RelinkDetail> }).plan.detail.groups.filter(({ state }) => state === 'set-aside'); // prettier-ignore
    expect(aside!.count).toBe(1);
  });
});

describe('what a pull takes', () => {
  const NAMES = ['Bell 10.wav', 'bell 2.wav', 'Ladle.wav', 'cope.wav', 'GLÜHEND.wav', 'gone.wav', 'lost.wav'];
  let request: { readonly kind: 'pull'; readonly settings: PullSettings };
  beforeEach(async () => {
    for (const [index, name] of NAMES.entries()) writeFileSync(join(small.source.root, name), wavBytes(48_000 * (index + 1), [], index));
    await small.stocktake(small.source.id);
    const id = small.bring(cutTimeline('Cut', NAMES.map((name, index) => cutOf(name, 3, 12 + (index % 3) * 40)), 'Audio')); // prettier-ignore
    for (const name of NAMES.slice(-2)) unlinkSync(join(small.source.root, name));
    await small.stocktake(small.source.id);
    request = { kind: 'pull', settings: pullSettings(small, id, { media: 'parts', headFrames: 2, tailFrames: 2 }) };
  });

  it('comes in windows: each a part of what one would filter and sort by hand, what is offline at the end', async () => {
    const asking = study();
    const { plan } = (await asking.answer({ ask: 'plan', projectId: small.projectId, request })) as { plan: PlanView };
    const { rows, offline } = ((await small.plan(request)) as Plan<TakenDetail>).detail;
    const of = (method: TakeMethod) => rows.filter((row) => row.method === method).length;
    expect([rows.length, offline.length, plan.detail]).toEqual([5, 2, { trim: of('trim'), frames: 0, whole: of('whole'), offline: 2 }]);
    const window = async (group: string, query: object) =>
      (await asking.answer({ ask: 'plan-rows', projectId: small.projectId, request, group, query: { filter: '', sort: 'name', down: false, limit: 100, offset: 0, ...query } })) as Window<TakenLine>; // prettier-ignore
    const values = { name: () => 0, keeps: (row: TakenRow) => row.keepsBytes / row.ofBytes, bytes: (row: TakenRow) => row.keepsBytes, how: (row: TakenRow) => ['trim', 'frames', 'whole'].indexOf(row.method) }; // prettier-ignore
    for (const group of ['', 'trim', 'frames', 'whole', 'offline'])
      for (const filter of ['', 'WAV', 'bell wav', 'glu\u0308hend', 'missing', 'nothing'])
        for (const sort of ['name', 'keeps', 'bytes', 'how'] as const)
          for (const down of [false, true]) {
            const words = filter.normalize('NFC').toLowerCase().split(' ');
            const has = (text: string) => words.every((word) => text.normalize('NFC').toLowerCase().includes(word));
            const taken = rows
              .filter((row) => (group === '' || row.method === group) && has(`${row.name} ${row.why ?? ''}`))
              .map(({ itemId }) => itemId);
            const away = offline
              .filter((row) => (group === '' || group === 'offline') && has(`${row.name} ${row.state}`))
              .map(({ clipId }) => clipId);
            const whole = await window(group, { filter, sort, down });
            const keys = whole.rows.map(({ key }) => key);
            expect([...keys].sort(), `${group} ${filter}`).toEqual([...taken, ...away].sort());
            const [ahead, last] = [whole.rows.slice(0, taken.length), whole.rows.slice(taken.length)];
            expect(ahead.every((line) => line.taken) && last.every((line) => line.offline)).toBe(true);
            const figures = ahead.map((line) => (down ? -1 : 1) * values[sort](line.taken!));
            expect(figures).toEqual([...figures].sort((a, b) => a - b));
            const names = ahead.map((line) => line.taken!.name);
            const byHand = names.toSorted(new Intl.Collator('en', { numeric: true, sensitivity: 'base' }).compare);
            if (sort === 'name') expect(names).toEqual(down ? byHand.reverse() : byHand);
            expect(await window(group, { filter, sort, down, limit: 2, offset: 1 })).toEqual({ total: whole.total, rows: whole.rows.slice(1, 3) });
          }
    await expect(window('none', {})).rejects.toThrow('no such list');
  });

  it('is planned once for its sheet and its list, anew for its run, and follows what changes', async () => {
    const made = vi.spyOn(KINDS.pull, 'plan');
    const asking = study();
    const sheet = async () => (await asking.answer({ ask: 'plan', projectId: small.projectId, request })) as { digest: string };
    const list = async () => (await asking.answer({ ask: 'plan-rows', projectId: small.projectId, request, group: 'offline', query: { filter: '', sort: 'name', down: false, limit: 9, offset: 0 } })) as Window<TakenLine>; // prettier-ignore
    const { digest } = await sheet();
    expect([(await list()).total, (await list()).total, made.mock.calls.length]).toEqual([2, 2, 1]);
    // Disks are looked at for each sheet: a folder of that name came to stand there, so that names are others.
    mkdirSync(join(small.vault.root, 'pulled/media/sound'), { recursive: true });
    writeFileSync(join(small.vault.root, 'pulled/media/sound/Ladle.wav'), 'somebody else');
    expect((await sheet()).digest).not.toBe(digest);
    await expect(asking.answer({ ask: 'enter-run', projectId: small.projectId, request, digest, actor: 'somebody' })).rejects.toThrow(
      'changed since',
    );
    expect([(await list()).total, made.mock.calls.length]).toEqual([2, 3]);
    // The catalogue is another: the list is, though no sheet has been asked for since.
    unlinkSync(join(small.source.root, 'cope.wav'));
    await small.stocktake(small.source.id);
    expect([(await list()).total, made.mock.calls.length]).toEqual([3, 4]);
    made.mockRejectedValueOnce(new Error('the drive went'));
    await expect(sheet()).rejects.toThrow('the drive went');
    expect((await list()).total).toBe(3);
    made.mockRestore();
  });
});
