/** What stays whole when it is sorted, what goes along with the bytes of a file, and what the sheet says of the rest. */
import { execFileSync } from 'node:child_process';
import { chmodSync, existsSync, mkdirSync, readdirSync, statSync, symlinkSync, unlinkSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { Cards, signProblem, STANDARD_CARDS } from '../../../src/core/media/card';
import { notHeldBy } from '../../../src/core/media/file-system';
import { planSort } from '../../../src/core/planning/sort/sort';
import type { SortSettings } from '../../../src/core/planning/sort/settings';
import { readMountTable, fileSystemOf } from '../../../src/server/stock/mount-table';
import { copyAttributes } from '../../../src/server/outside/attribute-copier';
import { Study } from '../../../src/server/questions/study';
import { makeHouse, type SmallHouse } from '../../helpers/small-house';
import { item } from '../../helpers/snapshots';
import { sortInput } from '../../helpers/sort-input';
import { diskState, put, sortSettings } from '../../helpers/sort-house';
import { clipsOfAll } from '../../helpers/proxy-house';
import { bringSounds, go, makeFrames, undo, wavBytes } from '../../helpers/trust-house';

let house: SmallHouse;
beforeEach(() => {
  house = makeHouse();
});
afterEach(() => house.remove());

const at = (path: string) => join(house.source.root, path);
const vault = (path: string) => join(house.vault.root, path);
const sort = async (own: Partial<SortSettings> = {}, shelfId = house.vault.id) => {
  await house.stocktake(house.source.id);
  const settings = sortSettings(shelfId, { scope: { of: 'folder', place: { shelfId: house.source.id, path: '' } }, emptyFolders: false, ...own });
  return house.plan({ kind: 'sort', settings });
};
const messages = (plan: Awaited<ReturnType<typeof sort>>, code: string) =>
  plan.findings.filter((one) => one.code === code).map(({ message }) => message);

/** A card with an index, an empty folder within an empty one, and a hidden file. */
function putCard(): void {
  put(house.source.root, 'CARD_07/DCIM/100BELLS/BELL0001.WAV', wavBytes(4800));
  put(house.source.root, 'CARD_07/DCIM/.index', 'hidden');
  mkdirSync(at('CARD_07/DCIM/101BELLS/EMPTY'), { recursive: true });
}

it('a card moves with its empty folders and hidden files, is copied with them, and an undo brings back all of it with its times', async () => {
  putCard();
  const before = diskState(house.source.root);
  const copied = await go(house, await sort({ action: 'copy' }));
  expect(copied.run.state).toBe('done');
  const card = (root: (path: string) => string) => {
    const found = readdirSync(root('Test'), { recursive: true, encoding: 'utf8' }).find((path) => path.endsWith('CARD_07'));
    return join(root('Test'), found!);
  };
  const listed = (folder: string) => readdirSync(folder, { recursive: true, encoding: 'utf8' }).sort();
  const whole = ['DCIM', 'DCIM/.index', 'DCIM/100BELLS', 'DCIM/100BELLS/BELL0001.WAV', 'DCIM/101BELLS', 'DCIM/101BELLS/EMPTY'];
  expect(listed(card(vault))).toEqual(whole);
  expect(diskState(house.source.root)).toEqual(before);
  await undo(house, copied.id);
  expect(existsSync(vault('Test'))).toBe(false);

  const moved = await go(house, await sort({}, house.source.id));
  expect(moved.run.state).toBe('done');
  expect([listed(card(at)), existsSync(at('CARD_07'))]).toEqual([whole, false]);
  expect((await undo(house, moved.id)).run.state).toBe('done');
  expect(diskState(house.source.root)).toEqual(before);
});

it.each([
  ['a link', () => symlinkSync('100BELLS', at('CARD_07/DCIM/latest')), 'DCIM/latest is a link'],
  ['a name that is no UTF-8', () => writeFileSync(Buffer.concat([Buffer.from(`${at('CARD_07/DCIM')}/`), Buffer.from([0xe9, 0x2e, 0x74])]), ''), 'has a name that is not UTF-8'],
  ['a pipe', () => execFileSync('mkfifo', [at('CARD_07/DCIM/pipe')]), 'DCIM/pipe is no plain file'],
] as const)('a card with %s is not moved at all, and its copy says what it lacks', async (_, make, why) => {
  putCard();
  make();
  const move = await sort({}, house.source.id);
  expect(messages(move, 'whole-cannot')[0]).toContain(`CARD_07 cannot be moved whole: `);
  expect([messages(move, 'whole-cannot')[0]!.includes(why), move.blocked !== null, move.steps.length]).toEqual([true, true, 0]);
  const copy = await sort({ action: 'copy' });
  expect([messages(copy, 'whole-cannot')[0]!.includes(why), copy.blocked]).toEqual([true, null]);
  const standing = () => execFileSync('find', [house.source.root]).length;
  const before = standing();
  expect((await go(house, copy)).run.state).toBe('done');
  expect(standing()).toBe(before);
}); // prettier-ignore

it('what came onto a card since the sheet was read stops the run before it begins', async () => {
  putCard();
  await house.stocktake(house.source.id);
  const settings = sortSettings(house.source.id, { scope: { of: 'folder', place: { shelfId: house.source.id, path: '' } }, emptyFolders: false });
  const study = new Study(house.house.catalogue, house.house.mounts);
  const request = { kind: 'sort' as const, settings };
  const { digest } = (await study.answer({ ask: 'plan', projectId: house.projectId, request })) as { digest: string };
  const enter = () => study.answer({ ask: 'enter-run', projectId: house.projectId, request, digest, actor: 'somebody' });
  symlinkSync('100BELLS', at('CARD_07/DCIM/latest'));
  await expect(enter()).rejects.toThrow('CARD_07 cannot be moved whole: DCIM/latest is a link');
  unlinkSync(at('CARD_07/DCIM/latest'));
  put(house.source.root, 'CARD_07/DCIM/.late', 'hidden');
  await expect(enter()).rejects.toThrow('Things have changed since you read this plan');
  unlinkSync(at('CARD_07/DCIM/.late'));
  const { id } = (await enter()) as { id: number };
  expect(house.house.catalogue.runs.get(id)!.state).toBe('queued');
});

it('what came onto a card while its run waited keeps the card where it is; others go, and it goes once that is gone', async () => {
  putCard();
  put(house.source.root, 'CARD_08/DCIM/100BELLS/BELL0002.WAV', wavBytes(9600));
  const plan = await sort({}, house.source.id);
  put(house.source.root, 'CARD_07/DCIM/100BELLS/BELL0009.WAV', wavBytes(480));
  const { id, run } = await go(house, plan);
  const kept = [
    'DCIM',
    'DCIM/.index',
    'DCIM/100BELLS',
    'DCIM/100BELLS/BELL0001.WAV',
    'DCIM/100BELLS/BELL0009.WAV',
    'DCIM/101BELLS',
    'DCIM/101BELLS/EMPTY',
  ];
  expect(readdirSync(at('CARD_07'), { recursive: true, encoding: 'utf8' }).sort()).toEqual(kept);
  expect([run.state, existsSync(at('CARD_08/DCIM/100BELLS/BELL0002.WAV'))]).toEqual(['failed', false]);
  const why = house.house.catalogue.runs.steps(id).flatMap(({ message }) => message ?? []);
  expect(why[0]).toContain('"DCIM/100BELLS/BELL0009.WAV" came into CARD_07 after the plan was made and would stay behind.');
  unlinkSync(at('CARD_07/DCIM/100BELLS/BELL0009.WAV'));
  house.house.runner.resume(id);
  expect([(await house.house.runner.finished(id)).state, existsSync(at('CARD_07')), existsSync(at('CARD_08'))]).toEqual(['done', false, false]);
});

describe('rules for what is a card', () => {
  it('can be added: a recorder of the house is kept whole from then on, and taken apart no more once the rule is gone', async () => {
    put(house.source.root, 'UNIT B/RECORDER/TAKE001/one.wav', wavBytes(480));
    put(house.source.root, 'UNIT B/RECORDER/TAKE002/two.wav', wavBytes(960));
    put(house.source.root, 'UNIT B/RECORDER/takes.db', 'index');
    const kinds = async () => (await sort({}, house.source.id)).detail as { rows: { kind: string }[] };
    expect((await kinds()).rows.map(({ kind }) => kind)).toEqual(['file', 'file', 'file']);
    const { cardRules } = house.house.catalogue;
    const before = house.house.catalogue.state();
    const rule = cardRules.add({ name: 'Recorder', sign: 'recorder/take###' })!;
    expect([cardRules.found([rule]), cardRules.add({ name: 'Again', sign: 'RECORDER/TAKE###' })]).toEqual([[1], null]);
    // Plans are made anew.
    expect(house.house.catalogue.state()).not.toBe(before);
    expect((await kinds()).rows.map(({ kind }) => kind)).toEqual(['card']);
    cardRules.remove(rule.id);
    expect((await kinds()).rows.length).toBe(3);
  });

  it('signs that cannot be meant are refused, and what stands in them is no pattern of another kind', () => {
    expect(['', 'A//B', '../B', '*', '##/?*', 'a\u0000', 'A/B/C/D/E/F/G'].map((sign) => signProblem(sign) !== null)).toEqual(Array(7).fill(true));
    expect(['RECORDER/TAKE###', 'Rushes *', 'A+B.(C)'].map(signProblem)).toEqual([null, null, null]);
    const own = new Cards([{ name: 'x', sign: 'A+B.(C)/D?' }]);
    expect([own.around('x/a+b.(c)/d1/f.mov')?.root, own.around('x/aab.(c)/d1/f.mov'), own.around('A+B.(C)/D1')]).toEqual(['x', null, null]);
    expect(STANDARD_CARDS.around('CARD/DCIM/100BELLS/a.jpg')).toEqual({ root: 'CARD', tree: 'CARD/DCIM' });
    expect(STANDARD_CARDS.around('CARD/DCIM/10BELLS1/a.jpg')).toBeNull();
  });
});

it('documents in a folder that all media leaves are told of; where media stays, and in the own folder, nothing is said', async () => {
  put(house.source.root, 'Bells/Papers/call sheet.pdf', 'paper');
  put(house.source.root, 'Bells/Looks/night.cube', 'look');
  put(house.source.root, 'Bells/Sound/one.wav', wavBytes(480));
  await clipsOfAll(house);
  const plan = await sort({ scope: { of: 'project' } }, house.source.id);
  expect(messages(plan, 'papers-stay')).toEqual(['All media leaves Bells on FOUNDRY-A. night.cube, call sheet.pdf stay there.']);
  expect(messages(await sort({ scope: { of: 'project' }, action: 'copy' }, house.source.id), 'papers-stay')).toEqual([]);
  put(house.source.root, 'Bells/Sound/other.wav', wavBytes(960));
  expect(messages(await sort({ scope: { of: 'project' } }, house.source.id), 'papers-stay')).toEqual([]);
});

it('a sort that only made folders is taken back: those that are empty go', async () => {
  const plan = await sort({ emptyFolders: true, scope: { of: 'project' } });
  const made = await go(house, plan);
  expect([made.run.state, existsSync(vault('Test/Sound'))]).toEqual(['done', true]);
  writeFileSync(vault('Test/Sound/mine.txt'), 'mine');
  const before = await house.plan({ kind: 'undo', settings: { runId: made.id, confirmed: false } });
  expect([before.blocked, before.headline.unit]).toEqual([null, 'folders']);
  expect((await undo(house, made.id)).run.state).toBe('done');
  expect([readdirSync(vault('Test')), house.house.catalogue.runs.get(made.id)!.undoneBy]).toEqual([['Sound'], made.id + 1]);
});

it('permissions, times to the nanosecond and extended attributes go along with copies, of frames too', async () => {
  await bringSounds(house, 'bell.wav');
  mkdirSync(at('pour'));
  await makeFrames(at('pour'), 'pour.', 1001, 6);
  const kept = [at('bell.wav'), at('pour/pour.1003.dpx')];
  const python = (code: string, ...args: string[]) =>
    execFileSync('python3', ['-c', `import os, sys\n${code}`, ...args], { encoding: 'utf8' }).trim();
  const has = kept.map((path) => {
    chmodSync(path, 0o640);
    execFileSync('touch', ['-d', '@1700000000.123456789', path]);
    return python("try:\n os.setxattr(sys.argv[1], 'user.note', b'second pour')\n print(1)\nexcept OSError: print(0)", path) === '1';
  }); // prettier-ignore
  const { run } = await go(house, await sort({ action: 'copy', names: { from: 'original', pattern: '', level: 'everywhere' } }));
  expect(run.state).toBe('done');
  const found = readdirSync(vault('Test'), { recursive: true, encoding: 'utf8' });
  for (const [index, name] of ['bell.wav', 'pour.1003.dpx'].entries()) {
    const path = vault(
      join(
        'Test',
        found.find((own) => own.endsWith(name))!,
      ),
    );
    const { mode, mtimeNs } = statSync(path, { bigint: true });
    const note = has[index] ? python("print(os.getxattr(sys.argv[1], 'user.note').decode())", path) : 'second pour';
    expect([Number(mode & 0o777n).toString(8), String(mtimeNs), note]).toEqual(['640', '1700000000123456789', 'second pour']);
  }
});

it('attributes are put on the very file, whatever its name, many at once; where there is none nothing is claimed', async () => {
  const names = ['plain', ' blanks ', '-rf', "it's $(touch made)", 'back\\slash\\n', 'two\nlines', '`touch made`', '日本 ü', 'x'.repeat(200)];
  for (const name of names) {
    put(house.source.root, `from/${name}`, 'a');
    put(house.source.root, `to/${name}`, 'another');
    execFileSync('touch', ['-d', '@1700000000.123456789', '--', at(`from/${name}`)]);
    chmodSync(at(`from/${name}`), 0o604);
  }
  const done = await Promise.all([...names, 'nobody'].map((name) => copyAttributes('mode,timestamps', at(`from/${name}`), at(`to/${name}`))));
  expect(done).toEqual([...names.map(() => true), false]);
  for (const name of names) {
    const { mode, mtimeNs, size } = statSync(at(`to/${name}`), { bigint: true });
    expect([Number(mode & 0o777n).toString(8), String(mtimeNs), Number(size)], name).toEqual(['604', '1700000000123456789', 7]);
  }
  expect(readdirSync(at('to')).sort()).toEqual([...names].sort());
});

it('what the file system of a destination does not hold is a finding, where something is written to it', () => {
  // proc_pid_mountinfo(5): optional fields stand before the hyphen.
  const table = at('mountinfo');
  writeFileSync(
    table,
    `36 35 98:0 / / rw,noatime master:1 - ext4 /dev/root rw\n40 36 8:17 / ${house.vault.root} rw shared:7 master:2 - exfat /dev/sdb1 rw\n41 36 8:18 / /mnt/a\\040b rw - vfat /dev/sdc1 rw\n`,
  );
  expect(readMountTable(table).map(({ at: where, type }) => [where, type])[2]).toEqual(['/mnt/a b', 'vfat']);
  expect([fileSystemOf(house.vault.root, readMountTable(table)), fileSystemOf(house.source.root, readMountTable(table))]).toEqual(['exfat', 'ext4']);
  expect([notHeldBy('exfat'), notHeldBy('ext4')]).toEqual(['permissions, owners and extended attributes are not kept there, and times in steps of 10 milliseconds', null]); // prettier-ignore
  const files = [item('one.wav', { kind: 'audio' }, { place: { shelfId: 'B', path: 'in/one.wav' } })];
  const said = (volumes: [string, string][], action: 'move' | 'copy') =>
    planSort(sortInput(files, { notHeld: new Map([['A', notHeldBy('exfat')!]]), volumes: new Map(volumes) }), sortSettings('A', { action })).findings.filter(({ code }) => code === 'not-held').length; // prettier-ignore
  // Within one file system a file only gets another name.
  expect([said([['A', '1'], ['B', '2']], 'move'), said([['A', '1'], ['B', '1']], 'move'), said([['A', '1'], ['B', '1']], 'copy')]).toEqual([1, 0, 1]); // prettier-ignore
});
