/** A link that is made without being asked is never wrong: real files, real fingerprints, real checksums. */
import { execFileSync } from 'node:child_process';
import { randomBytes } from 'node:crypto';
import { mkdirSync, renameSync, rmSync, utimesSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import fc from 'fast-check';
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { canProve, fingerprintSamples, SAMPLE_BYTES } from '../../src/core/media/fingerprint';
import { proofOf, type Sharer } from '../../src/core/planning/evidence/proof';
import type { RelinkDetail } from '../../src/core/planning/relink/relink';
import { openDatabase } from '../../src/server/catalogue/database';
import { fingerprintFile } from '../../src/server/stock/fingerprint-file';
import { makeHouse, type SmallHouse } from '../helpers/small-house';
import { item as madeItem } from '../helpers/snapshots';
import { alterInSecret, bringSounds, copyStep, cutOf, cutTimeline, go, planOf, states, wavBytes } from '../helpers/trust-house';

let small: SmallHouse;
beforeEach(() => {
  small = makeHouse();
});
afterEach(() => small.remove());

const at = (...names: string[]) => join(small.source.root, ...names);
const EVERYWHERE = { kind: 'relink' as const, settings: { scope: null, choices: {} } };
const rowsOf = async () => ((await small.plan(EVERYWHERE)).detail as RelinkDetail).groups.flatMap((group) => group.rows);

/** A WAV of `seconds` with a sound of its own in the middle of its `part`th fifth, silent elsewhere. */
function stem(seconds: number, part: number): Buffer {
  const whole = wavBytes(48_000 * seconds);
  const from = 44 + Math.floor((whole.length - 44) * (part / 5)) + 30_000;
  randomBytes(3000).copy(whole, from);
  return whole;
}

it('two different files of one size never prove each other, wherever they differ, are silent or are alike', async () => {
  const size = SAMPLE_BYTES * 40;
  const file = join(small.folder, 'f');
  const printOf = async (bytes: Buffer) => {
    writeFileSync(file, bytes);
    return fingerprintFile(file, bytes.length);
  };
  const remembered = { name: 'f', sizeBytes: size, rate: null, durationFrames: null, startFrame: null, reel: null, kind: null };
  const sharer = (id: string, isGone: boolean, modifiedNs: string): Sharer => ({
    itemId: id,
    isGone,
    sizeBytes: size,
    modifiedNs,
    sha256: null,
    knownAt: null,
    seenAt: null,
  });
  const filling = fc.constantFrom('zeros', 'noise', 'half');
  await fc.assert(
    fc.asyncProperty(
      filling,
      fc.integer({ min: 0, max: size - 64 }),
      fc.integer({ min: 1, max: 60 }),
      fc.boolean(),
      async (kind, from, length, isGone) => {
        const first = kind === 'zeros' ? Buffer.alloc(size) : randomBytes(size);
        if (kind === 'half') first.fill(0, size / 4);
        const second = Buffer.from(first);
        second.fill(7, from, from + length);
        if (second.equals(first)) return;
        const [a, b] = [await printOf(first), await printOf(second)];
        // Both are known to the catalogue: the one that is looked for stands there, or is gone.
        const other = {
          ...madeItem('g'),
          id: 'b',
          sizeBytes: size,
          fingerprint: b,
          identity: { sizeBytes: size, modifiedNs: '2', changedNs: '2', inode: '2', bornNs: '2' },
        };
        const sharers = a === b ? [sharer('a', isGone, '1'), sharer('b', false, '2')] : [sharer('b', false, '2')];
        const proof = proofOf({ ...remembered, fingerprint: a }, { ...other, facts: { ...other.facts, kind: 'audio' } }, sharers);
        expect(proof.is).not.toBe('proven');
        if (kind === 'zeros') expect(canProve(a, false)).toBe(false);
      },
    ),
    { numRuns: 60 },
  );
});

describe('relink', () => {
  it('of sound stems that are silent where they are sampled, none is taken for another that was deleted', async () => {
    for (const part of [0, 1, 2, 3]) writeFileSync(at(`stem${part}.wav`), stem(20, part));
    await small.stocktake(small.source.id);
    small.bring(cutTimeline('Mix', [cutOf('stem0.wav', 0, 50)], 'Audio'));
    rmSync(at('stem0.wav'));
    await small.stocktake(small.source.id);
    const [row] = await rowsOf();
    expect(row).toMatchObject({ state: 'missing', chosen: null });
    expect(row!.matches.every((match) => match.strength !== 'proven')).toBe(true);
  });

  it('of two files that stood there at one time, alike in size, samples and time of writing, none is taken for the other that is gone', async () => {
    const bytes = Buffer.concat([wavBytes(960_000).subarray(0, 44), randomBytes(1_920_000)]);
    const almost = Buffer.from(bytes);
    almost[unsampledByte(bytes)]! ^= 1;
    writeFileSync(at('take1.wav'), bytes);
    writeFileSync(at('take2.wav'), almost);
    for (const name of ['take1.wav', 'take2.wav']) utimesSync(at(name), 1000, 1000);
    await small.stocktake(small.source.id);
    small.bring(cutTimeline('Mix', [cutOf('take1.wav', 0, 50)], 'Audio'));
    rmSync(at('take1.wav'));
    await small.stocktake(small.source.id);
    expect((await rowsOf())[0]).toMatchObject({ state: 'missing', chosen: null, reads: [] });
  });

  it('a file that was moved is taken; one that was copied anew beside a file that is gone is asked for', async () => {
    writeFileSync(at('noise.wav'), Buffer.concat([wavBytes(240_000).subarray(0, 44), randomBytes(480_000)]));
    await small.stocktake(small.source.id);
    small.bring(cutTimeline('Mix', [cutOf('noise.wav', 0, 50)], 'Audio'));
    mkdirSync(at('moved'));
    renameSync(at('noise.wav'), at('moved/other name.wav'));
    await small.stocktake(small.source.id);
    expect((await rowsOf())[0]!.matches[0]).toMatchObject({ strength: 'proven', ground: '14 samples, unique' });
    expect((await rowsOf())[0]!.chosen).not.toBeNull();
    utimesSync(at('moved/other name.wav'), 1, 1);
    await small.stocktake(small.source.id);
    expect((await rowsOf())[0]).toMatchObject({ chosen: null });
  });

  const noise = () => Buffer.concat([wavBytes(960_000).subarray(0, 44), randomBytes(1_920_000)]);

  it('copies of each other are read whole first, and any serves', async () => {
    const bytes = noise();
    const [first] = await twins(bytes, bytes);
    const plan = await small.plan(EVERYWHERE);
    expect(plan.lines.find((line) => line.label === 'Read whole first')).toMatchObject({ files: 2, bytes: 2 * bytes.length });
    expect(plan.lines.find((line) => line.label === 'If copies of each other')).toMatchObject({ clips: 1 });
    expect((await go(small, plan)).run.state).toBe('done');
    expect(await rowsOf()).toEqual([]);
    expect(small.house.catalogue.items.at({ shelfId: small.source.id, path: first! })!.sha256).toMatch(/^[0-9a-f]{64}$/);
  });

  it('different files of one fingerprint stay the user’s choice, from the moment that is known', async () => {
    const bytes = noise();
    // The same but for one sign that no sample sees.
    const almost = Buffer.from(bytes);
    almost[unsampledByte(bytes)]! ^= 1;
    await twins(bytes, almost);
    const wrong = await go(small, await small.plan(EVERYWHERE));
    expect(wrong.run.state).toBe('failed');
    expect(wrong.rows.at(-1)!.message).toContain('turned out to be different');
    expect((await rowsOf())[0]).toMatchObject({ state: 'missing', chosen: null, reads: [] });
    // Once its twin is gone it still proves nothing.
    rmSync(at('b/noise.wav'));
    await small.stocktake(small.source.id);
    expect((await rowsOf())[0]).toMatchObject({ chosen: null, reads: [] });
  });

  it('one of two that have a fingerprint is not taken while the other lies on a drive that is away', async () => {
    const bytes = noise();
    await twins(bytes, bytes);
    mkdirSync(join(small.vault.root, 'b'));
    execFileSync('cp', ['-a', at('b/noise.wav'), join(small.vault.root, 'b/noise.wav')]);
    rmSync(at('b/noise.wav'));
    await small.stocktake(small.source.id);
    await small.stocktake(small.vault.id);
    expect((await rowsOf())[0]!.reads).toHaveLength(2);
    renameSync(small.vault.root, join(small.folder, '.away'));
    expect((await rowsOf())[0]).toMatchObject({ chosen: null, reads: [] });
    renameSync(join(small.folder, '.away'), small.vault.root);
  });

  /** The file that is linked is gone, and two stand in its stead. */
  async function twins(one: Buffer, other: Buffer): Promise<string[]> {
    writeFileSync(at('noise.wav'), one);
    await small.stocktake(small.source.id);
    small.bring(cutTimeline('Mix', [cutOf('noise.wav', 0, 50)], 'Audio'));
    for (const folder of ['a', 'b']) mkdirSync(at(folder), { recursive: true });
    writeFileSync(at('a/noise.wav'), one);
    writeFileSync(at('b/noise.wav'), other);
    // With the times of the first: nothing but their bytes tells them apart.
    for (const folder of ['a', 'b']) execFileSync('touch', ['-r', at('noise.wav'), at(folder, 'noise.wav')]);
    rmSync(at('noise.wav'));
    await small.stocktake(small.source.id);
    return ['a/noise.wav', 'b/noise.wav'];
  }

  function unsampledByte(bytes: Buffer): number {
    const samples = fingerprintSamples(bytes.length);
    const seen = (index: number) => samples.some(({ offset, length }) => index >= offset && index < offset + length);
    return Array.from(bytes.keys()).find((index) => index > 1000 && !seen(index))!;
  }
});

it('whatever a run reads whole is known by every byte afterwards; other bytes under the same size and times are told', async () => {
  writeFileSync(at('a.bin'), randomBytes(400_000));
  await small.stocktake(small.source.id);
  const item = () => small.house.catalogue.items.at({ shelfId: small.source.id, path: 'a.bin' })!;
  await go(small, planOf(small, [copyStep(small, 'a.bin')]));
  expect(item().sha256).toMatch(/^[0-9a-f]{64}$/);
  execFileSync('touch', ['-r', at('a.bin'), join(small.folder, 'times')]);
  alterInSecret(at('a.bin'), 200_000);
  execFileSync('touch', ['-r', join(small.folder, 'times'), at('a.bin')]);
  await small.stocktake(small.source.id);
  const again = await go(small, planOf(small, [copyStep(small, 'a.bin', 'again.bin')]));
  expect(again.rows[0]!.outcome!.checked).toContain('may be losing data');
});

it('fingerprints of an earlier version prove nothing, and are made anew at the next stocktake; clips know the file by the new one', async () => {
  await bringSounds(small, 'one.wav');
  const db = openDatabase(join(small.folder, 'data/catalogue.sqlite'), true);
  db.exec(`UPDATE items SET fingerprint = 'abcdef', facts_version = 1;
    UPDATE links SET fingerprint = 'abcdef', expected = json_set(expected, '$.fingerprint', 'abcdef')`);
  db.close();
  expect(canProve('abcdef', false)).toBe(false);
  expect(await rowsOf()).toEqual([]);
  await small.stocktake(small.source.id);
  const [clip] = small.house.catalogue.clips.ofProject(small.projectId);
  const { fingerprint } = clip!.renditions[0]!.links[0]!.expected;
  expect(fingerprint).toMatch(/^2:[0-9a-f]{64}:all$/);
  expect(small.house.catalogue.items.at({ shelfId: small.source.id, path: 'one.wav' })!.fingerprint).toBe(fingerprint);
  renameSync(at('one.wav'), at('moved.wav'));
  await small.stocktake(small.source.id);
  // Known by every byte, it is read where it stands now, and told as moved.
  const rows = (await rowsOf()).map(({ state, chosen }) => [state, chosen]);
  expect([rows, await states(small)]).toEqual([[['present', null]], { 'one.wav moved.wav': 'present' }]);
});

it('two files of one size and time of writing that swap names are seen', async () => {
  for (const name of ['a.wav', 'b.wav']) writeFileSync(at(name), wavBytes(4800, [], name.charCodeAt(0)));
  for (const name of ['a.wav', 'b.wav']) utimesSync(at(name), 1000, 1000);
  await small.stocktake(small.source.id);
  const print = (name: string) => small.house.catalogue.items.at({ shelfId: small.source.id, path: name })!.fingerprint;
  const [a, b] = [print('a.wav'), print('b.wav')];
  renameSync(at('a.wav'), at('c'));
  renameSync(at('b.wav'), at('a.wav'));
  renameSync(at('c'), at('b.wav'));
  await small.stocktake(small.source.id);
  expect([print('a.wav'), print('b.wav')]).toEqual([b, a]);
});
