/**
 * What became of a crate, judged by other people's tool beside ours: bagit 1.9.0, the reference validator of RFC 8493. No crate that
 * it refuses is called whole here after a check, and what it accepts and nobody altered is.
 */
import { createHash } from 'node:crypto';
import { spawnSync } from 'node:child_process';
import { appendFileSync, cpSync, mkdirSync, readFileSync, renameSync, rmSync, statSync, utimesSync, writeFileSync } from 'node:fs';
import { join, resolve } from 'node:path';
import { afterAll, beforeAll, expect, it } from 'vitest';
import type { CrateSettings } from '../../src/core/planning/crate/settings';
import type { CrateView } from '../../src/server/projects/views/crate';
import { makeHouse, seen, type SmallHouse } from '../helpers/small-house';
import { cutOf, cutTimeline, go, pullSettings, wavBytes } from '../helpers/trust-house';

let small: SmallHouse;
let root: string;
let spare: string;

beforeAll(async () => {
  small = makeHouse();
  for (const [index, name] of ['long.wav', 'one.wav'].entries()) writeFileSync(join(small.source.root, name), wavBytes(9600, [], index + 1));
  await small.stocktake(small.source.id);
  const timelineId = small.bring(cutTimeline('Bells', ['long.wav', 'one.wav'].map((name) => cutOf(name, 0, 5)), 'Audio')); // prettier-ignore
  const { folderName: _folder, ...shared } = pullSettings(small, timelineId);
  const settings: CrateSettings = { ...shared, crateName: 'Sealed', note: '' };
  await go(small, await small.plan({ kind: 'crate', settings }));
  root = join(small.vault.root, 'Sealed');
  spare = join(small.folder, 'spare');
  cpSync(root, spare, { recursive: true, preserveTimestamps: true });
});
afterAll(() => small.remove());

const at = (path: string) => join(root, path);
const LONG = 'data/media/sound/long.wav';
const sum = (path: string) => createHash('sha256').update(readFileSync(at(path))).digest('hex'); // prettier-ignore

function edit(path: string, change: (text: string) => string): void {
  writeFileSync(at(path), change(readFileSync(at(path), 'utf8')));
}

/** Another sound in the same size, with the times of the first. */
function exchange(path: string): void {
  const { atime, mtime } = statSync(at(path));
  const bytes = readFileSync(at(path));
  bytes.writeUInt8(bytes.readUInt8(bytes.length - 1) ^ 0xff, bytes.length - 1);
  writeFileSync(at(path), bytes);
  utimesSync(at(path), atime, mtime);
}

/** Writes the checksum of a file that stands there into a list of it. */
const relist = (list: string, path: string) =>
  edit(list, (text) => text.replace(new RegExp(`^[0-9a-f]{64}(  ${path.replaceAll('/', '\\/')})$`, 'm'), `${sum(path)}$1`));

/** What is done to it, and whether the validator and we take it for whole afterwards. */
const ALTERATIONS: readonly (readonly [what: string, by: () => void, validator: boolean, ours: boolean])[] = [
  ['nothing', () => undefined, true, true],
  ['its files were written to, and are what they were', () => utimesSync(at(LONG), new Date(), new Date()), true, true],
  ['one byte of a sound', () => exchange(LONG), false, false],
  ['a sound grew', () => appendFileSync(at(LONG), 'x'), false, false],
  ['a sound is cut', () => edit(LONG, (text) => text.slice(0, 100)), false, false],
  ['a sound is gone', () => rmSync(at(LONG)), false, false],
  ['a sound has another name', () => renameSync(at(LONG), at(`${LONG}.old`)), false, false],
  ['a file was laid into its payload', () => writeFileSync(at('data/media/notes.txt'), 'take two'), false, false],
  ['a folder with a file was laid into its payload', () => (mkdirSync(at('data/new')), writeFileSync(at('data/new/a.wav'), wavBytes(480))), false, false], // prettier-ignore
  ['a hidden file was laid into its payload, as desktops do', () => writeFileSync(at('data/media/.DS_Store'), 'x'), false, false],
  ['a line of its manifest is gone', () => edit('manifest-sha256.txt', (text) => text.split('\n').slice(1).join('\n')), false, false],
  ['a line of its manifest is none', () => edit('manifest-sha256.txt', (text) => text.replace(/^./, 'z')), false, false],
  ['its manifest lists what never was', () => appendFileSync(at('manifest-sha256.txt'), `${'0'.repeat(64)}  data/media/never.wav\n`), false, false],
  ['its manifest is gone', () => rmSync(at('manifest-sha256.txt')), false, false],
  ['its bag-info tells another sender', () => edit('bag-info.txt', (text) => `${text}Contact-Name: nobody\n`), false, false],
  ['its bag-info is gone', () => rmSync(at('bag-info.txt')), false, false],
  ['what says that it is a bag is gone', () => rmSync(at('bagit.txt')), false, false],
  // A bag need have no list of lists (RFC 8493, 2.2.1); ours has one, and without it lines could be taken out unseen.
  ['its list of lists is gone', () => rmSync(at('tagmanifest-sha256.txt')), true, false],
  // Consistent in itself: only who remembers the lists that were written knows better.
  ['a sound was exchanged together with its lines in both lists', () => (exchange(LONG), relist('manifest-sha256.txt', LONG), relist('tagmanifest-sha256.txt', 'manifest-sha256.txt')), true, false], // prettier-ignore
];

async function isSafeAfterCheck(): Promise<boolean> {
  await small.stocktake(small.vault.id);
  const [crate] = await seen<CrateView[]>(small, 'crates');
  const plan = await small.plan({ kind: 'check-crate', settings: { crateId: crate!.id } }).catch(() => null);
  if (plan && plan.blocked === null) await go(small, plan);
  return (await seen<CrateView[]>(small, 'crates'))[0]!.isSafe;
}

it.each(ALTERATIONS)('%s', async (_what, alter, validator, ours) => {
  rmSync(root, { recursive: true });
  cpSync(spare, root, { recursive: true, preserveTimestamps: true });
  // As it was made, and known to be: nothing of the last alteration is left.
  expect(await isSafeAfterCheck()).toBe(true);
  alter();
  const { status } = spawnSync(resolve('.venv/bin/python'), ['-m', 'bagit', '--validate', root], { stdio: 'pipe' });
  expect([status === 0, await isSafeAfterCheck()]).toEqual([validator, ours]);
});
