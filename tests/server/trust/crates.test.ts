/** Crates from elsewhere: what links, names and lists of others can do; and work of the user's on clips that come with timelines. */
import { execFileSync } from 'node:child_process';
import { createHash } from 'node:crypto';
import {
  appendFileSync,
  copyFileSync,
  mkdirSync,
  mkdtempSync,
  readFileSync,
  renameSync,
  rmSync,
  symlinkSync,
  unlinkSync,
  writeFileSync,
} from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import type { CrateSettings } from '../../../src/core/planning/crate/settings';
import { changeClips } from '../../../src/core/project/bins';
import { formatOtio } from '../../../src/core/interchange/otio/otio-writer';
import type { OverviewView } from '../../../src/server/projects/views/project';
import { makeHouse, seen, type SmallHouse } from '../../helpers/small-house';
import { alterInSecret, cutOf, cutTimeline, endOf, go, pullSettings, states, undo, wavBytes } from '../../helpers/trust-house';

let small: SmallHouse;
let timelineId: string;
beforeEach(async () => {
  small = makeHouse();
  for (const [index, name] of ['one.wav', 'two.wav'].entries()) writeFileSync(join(small.source.root, name), wavBytes(9600, [], index));
  await small.stocktake(small.source.id);
  timelineId = small.bring(cutTimeline('Bells', [cutOf('one.wav', 0, 5), cutOf('two.wav', 0, 5)], 'Audio'));
});
afterEach(() => small.remove());

const out = (name: string) => join(small.vault.root, name);
const place = (path: string) => ({ shelfId: small.vault.id, path });
const open = (path: string, projectName: string | null = null) =>
  small.plan({ kind: 'restore', settings: { crate: place(path), projectName } }); // prettier-ignore
const projects = () => small.house.catalogue.projects.list().map((project) => project.name).sort(); // prettier-ignore

async function makeCrate(name = 'Sealed'): Promise<number> {
  const { folderName: _folder, ...shared } = pullSettings(small, timelineId);
  const settings: CrateSettings = { ...shared, crateName: name, note: '' };
  const made = await go(small, await small.plan({ kind: 'crate', settings }));
  expect(made.run.state).toBe('done');
  return made.id;
}

it('a crate that was undone is remembered with what it carried, also when its project is gone', async () => {
  const made = await makeCrate();
  const { crates, projects: all } = small.house.catalogue;
  const { id } = crates.ofRun(made)!;
  const carried = crates.carriedBy(id);
  expect(carried.timelines.map(({ name }) => name)).toEqual(['Bells']);
  expect(carried.clips.map(({ name, place: at, start, end }) => [name, at.path, start, end])).toEqual([
    ['one.wav', 'one.wav', 0, 9600],
    ['two.wav', 'two.wav', 0, 9600],
  ]);
  expect(carried.clips.every(({ fingerprint }) => fingerprint !== null)).toBe(true);
  await undo(small, made);
  expect([crates.get(id), crates.ofProject(small.projectId)]).toEqual([null, []]);
  all.remove(small.projectId);
  expect(crates.marksOf(id).map(({ mark, actor }) => [mark, actor])).toEqual(['made', 'checked', 'undone'].map((mark) => [mark, 'this machine']));
  expect(crates.carriedBy(id)).toEqual(carried);
});

it('a crate that lacks clips says so wherever it is named, and is no safe copy; a whole one made before it still is', async () => {
  const head = () => seen<OverviewView>(small, 'overview');
  await makeCrate('Whole');
  expect((await head()).lastCrate).toMatchObject({ name: 'Whole', lacks: null });
  unlinkSync(join(small.source.root, 'two.wav'));
  await small.stocktake(small.source.id);
  // The copy in the crate is read: nothing lacks as long as that stands.
  expect((await states(small))['two.wav Whole/data/media/sound/two.wav']).toBe('present');
  unlinkSync(out('Whole/data/media/sound/two.wav'));
  await small.stocktake(small.vault.id);
  await makeCrate('Half');
  expect((await head()).lastCrate).toMatchObject({ name: 'Whole', lacks: null });
  rmSync(out('Whole'), { recursive: true });
  small.house.catalogue.crates.takeBack(
    small.house.catalogue.crates.ofProject(small.projectId).find(({ name }) => name === 'Whole')!.id,
    'undone',
    'somebody',
  );
  const view = await head();
  expect(view.lastCrate).toMatchObject({ name: 'Half', lacks: '1 of 2 clips, 1 missing' });
  expect(view.advice.find(({ stage }) => stage === 'crates')!.why).toContain('Half holds 1 of 2 clips, 1 missing: there is no safe copy yet');
  const report = readFileSync(out('Half/data/report.html'), 'utf8');
  expect(report).toContain('Not in this crate');
  expect(report).toMatch(/two\.wav<\/td><td>its file was not found<\/td><td class="n">1/);
});

describe('opening a crate', () => {
  it('whose names come back in two pieces, whose labels are in capitals, and which lacks an empty file, is known for what it is', async () => {
    writeFileSync(join(small.source.root, 'Läuten.wav'), wavBytes(9600, [], 3));
    await small.stocktake(small.source.id);
    timelineId = small.bring(cutTimeline('Läuten', [cutOf('Läuten.wav', 0, 5)], 'Audio'));
    await makeCrate('Apart');
    const [composed, apart] = ['Läuten.wav', 'Läuten.wav'.normalize('NFD')].map((name) => join(out('Apart'), 'data/media/sound', name));
    renameSync(composed!, apart!);
    const info = join(out('Apart'), 'bag-info.txt');
    writeFileSync(info, readFileSync(info, 'utf8').replace('Payload-Oxum', 'PAYLOAD-OXUM').replace('Project-Name', 'project-name'));
    const plan = await open('Apart');
    expect([plan.findings.map(({ code }) => code), plan.lines[0]!.text]).toEqual([['crate-tag-altered'], 'Test, from a crate']);
    expect((await go(small, plan)).run.state).toBe('done');
    const made = small.house.catalogue.projects.list().find((project) => project.name === 'Test, from a crate')!;
    const [link] = small.house.catalogue.clips.ofProject(made.id)[0]!.renditions[0]!.links;
    expect(link!.place?.path.normalize('NFC')).toBe('Apart/data/media/sound/Läuten.wav');
    // A file of no bytes more: only its count tells.
    writeFileSync(join(out('Apart'), 'data/empty.txt'), '');
    expect((await open('Apart')).findings.map((finding) => finding.code)).toEqual(['crate-tag-altered', 'crate-extra', 'crate-oxum']);
  });

  it('twice under no name makes two projects; the same click twice makes one and says so', async () => {
    await makeCrate();
    const plan = await open('Sealed');
    const first = small.house.runner.submit(plan);
    const second = small.house.runner.submit(plan);
    const ends = [(await endOf(small, first)).run.state, (await endOf(small, second)).run.state].sort();
    expect(ends).toEqual(['done', 'failed']);
    expect((await go(small, await open('Sealed'))).run.state).toBe('done');
    expect((await go(small, await open('Sealed', 'Named'))).run.state).toBe('done');
    expect((await go(small, await open('Sealed', 'Named'))).run.state).toBe('done');
    expect(projects()).toEqual(['Named', 'Named', 'Test', 'Test, from a crate', 'Test, from a crate 2']);
    for (const project of small.house.catalogue.projects.list()) {
      expect(small.house.catalogue.timelines.entries(project.id).length, project.name).toBe(1);
      expect(Object.values(await states(small, project.id))).toEqual(['present', 'present']);
    }
  });

  it('brings in only what the manifest vouches for, and says what it left out', async () => {
    await makeCrate();
    copyFileSync(out('Sealed/data/timelines/Bells.otio'), out('Sealed/data/timelines/Planted.otio'));
    const plan = await open('Sealed', 'Guarded');
    expect(plan.findings.map((finding) => [finding.severity, finding.code])).toContainEqual(['warns', 'crate-timeline-unlisted']);
    expect(plan.findings.find((finding) => finding.code === 'crate-timeline-unlisted')!.message).toContain('Planted');
    await go(small, plan);
    const project = small.house.catalogue.projects.list().find((entry) => entry.name === 'Guarded')!;
    expect(small.house.catalogue.timelines.entries(project.id).map((row) => row.name)).toEqual(['Bells']);
    appendFileSync(out('Sealed/data/timelines/Bells.otio'), ' ');
    expect((await open('Sealed')).blocked).toContain('not what the manifest says');
  });

  it('reads nothing through a link: timelines, bag-info, the manifest', async () => {
    await makeCrate();
    const outside = mkdtempSync(join(tmpdir(), 'mill-outside-'));
    for (const path of ['data/timelines/Bells.otio', 'bag-info.txt', 'manifest-sha256.txt']) {
      execFileSync('cp', ['-a', out('Sealed'), out('Linked')]);
      renameSync(out(`Linked/${path}`), join(outside, 'secret'));
      symlinkSync(join(outside, 'secret'), out(`Linked/${path}`));
      await expect(open('Linked'), path).rejects.toThrow('It is not opened');
      rmSync(out('Linked'), { recursive: true });
    }
    execFileSync('cp', ['-a', out('Sealed'), out('Linked')]);
    renameSync(out('Linked/data/timelines'), join(outside, 'timelines'));
    symlinkSync(join(outside, 'timelines'), out('Linked/data/timelines'));
    await expect(open('Linked')).rejects.toThrow('leads out of it by a link');
    rmSync(outside, { recursive: true });
  });

  it('a file checked before a cancel and altered since is checked again', async () => {
    await makeCrate();
    const { runner, catalogue } = small.house;
    // One file is bad, so that the run stops with the others checked.
    alterInSecret(out('Sealed/data/report.html'), 40);
    const first = await go(small, await open('Sealed', 'Twice'));
    expect(first.run.state).toBe('failed');
    alterInSecret(out('Sealed/data/report.html'), 40, readFileSync(out('Sealed/data/report.html'), 'latin1').slice(40, 47));
    alterInSecret(out('Sealed/data/media/sound/one.wav'), 300);
    runner.resume(first.id);
    const { run, rows } = await endOf(small, first.id);
    expect(run.state).toBe('failed');
    expect(rows.find((row) => row.step.from?.path.endsWith('one.wav'))!.message).toContain('not what the manifest says');
    expect(catalogue.projects.list().map((project) => project.name)).not.toContain('Twice');
  });

  it('takes a percent sign of an older writer as it stands, and one of ours as it is meant', async () => {
    await makeCrate();
    mkdirSync(out('Foreign/data/timelines'), { recursive: true });
    const text = formatOtio(cutTimeline('Foreign', []));
    writeFileSync(out('Foreign/bagit.txt'), 'BagIt-Version: 0.97\nTag-File-Character-Encoding: UTF-8\n');
    writeFileSync(out('Foreign/data/timelines/f.otio'), text);
    writeFileSync(out('Foreign/data/100%25.txt'), 'literal');
    const sum = (content: string) => createHash('sha256').update(content).digest('hex');
    writeFileSync(out('Foreign/manifest-sha256.txt'), `${sum(text)}  data/timelines/f.otio\n${sum('literal')}  data/100%25.txt\n`);
    const plan = await open('Foreign');
    expect(plan.findings.map(({ code }) => code)).toEqual(['crate-no-taglist']);
    expect((await go(small, plan)).run.state).toBe('done');
  });

  it('in a hidden folder is refused with advice', async () => {
    await makeCrate();
    mkdirSync(out('.attic'));
    renameSync(out('Sealed'), out('.attic/Sealed'));
    expect((await open('.attic/Sealed')).blocked).toContain('hidden');
  });
});

describe('clips that came with a timeline', () => {
  const clips = () => small.house.catalogue.clips.ofProject(small.projectId);
  const edit = (change: Parameters<typeof changeClips>[2]) => {
    const { catalogue } = small.house;
    if (change.binPath) catalogue.bins.ensure(small.projectId, change.binPath);
    const state = { bins: catalogue.bins.ofProject(small.projectId), clips: clips() };
    catalogue.bins.edit(small.projectId, 'Edit', changeClips(state, [clips()[0]!.id], change));
  };
  const takeOut = () => {
    const { catalogue } = small.house;
    catalogue.transaction(() => catalogue.clips.removeUnused(catalogue.timelines.remove(small.projectId, timelineId)));
  };

  it.each([
    ['renamed', { name: 'The first strike' }],
    ['put in a bin', { binPath: 'Bells/Morning' }],
    ['conformed frame for frame', { conform: 'by-frame' as const }],
  ])('one that the user %s stays when the timeline goes', (_, change) => {
    edit(change);
    takeOut();
    expect(clips()).toMatchObject([change]);
  });

  it('untouched ones go with it', () => {
    takeOut();
    expect(clips()).toEqual([]);
  });

  it('an edit can be taken back though its clip came in again meanwhile', () => {
    const { catalogue } = small.house;
    edit({ note: 'A crack after the third strike' });
    const noted = clips().find((clip) => clip.note !== '')!;
    takeOut();
    const state = { bins: [], clips: clips() };
    expect(state.clips).toHaveLength(1);
    catalogue.bins.edit(small.projectId, 'Tidy', { putBins: [], dropBins: [], putClips: [], dropClips: [noted.id] });
    expect(clips()).toEqual([]);
    timelineId = small.bring(cutTimeline('Bells', [cutOf('one.wav', 0, 5), cutOf('two.wav', 0, 5)], 'Audio'));
    expect(catalogue.bins.step(small.projectId, 'undo')).toBe('Tidy');
    expect(clips().map((clip) => clip.note).filter((note) => note !== '')).toEqual(['A crack after the third strike']); // prettier-ignore
    expect(catalogue.bins.step(small.projectId, 'undo')).toBe('Edit');
    expect(catalogue.bins.step(small.projectId, 'redo')).toBe('Edit');
    expect(clips()).toHaveLength(2);
  });

  it('a pull makes none beside those that are there, and its undo takes none', async () => {
    const before = clips();
    const pulled = await go(small, await small.plan({ kind: 'pull', settings: pullSettings(small, timelineId) }));
    expect(clips()).toEqual(before);
    // Its files are copies: without the source they are read, and not taken without a word.
    unlinkSync(join(small.source.root, 'one.wav'));
    await small.stocktake(small.source.id);
    expect(await states(small)).toEqual({ 'one.wav pulled/media/sound/one.wav': 'present', 'two.wav two.wav': 'present' });
    const plan = await small.plan({ kind: 'undo', settings: { runId: pulled.id, confirmed: false } });
    expect(plan.blocked).toBe('Read which files have no other copy, then tick the box.');
    await undo(small, pulled.id);
    expect(clips().map(({ id }) => id)).toEqual(before.map(({ id }) => id));
  });
});
