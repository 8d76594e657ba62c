/** What is asked and decided about copies: rendered anew, sealed ones last, what looks the same at a destination, which is read first. */
import { createHash } from 'node:crypto';
import { copyFileSync, existsSync, mkdirSync, readFileSync, renameSync, unlinkSync, utimesSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { fingerprintSamples } from '../../../src/core/media/fingerprint';
import type { RelinkDetail } from '../../../src/core/planning/relink/relink';
import type { RelinkSettings } from '../../../src/core/planning/relink/settings';
import { readFrom } from '../../../src/server/projects/copies-view';
import { eject } from '../../helpers/colleague';
import type { OverviewView } from '../../../src/server/projects/views/project';
import { clipsSeen, makeHouse, seen, type SmallHouse } from '../../helpers/small-house';
import { put, sortSettings } from '../../helpers/sort-house';
import { alterInSecret, cutOf, cutTimeline, go, pullSettings, states, undo, wavBytes } from '../../helpers/trust-house';

let small: SmallHouse;
beforeEach(() => {
  small = makeHouse();
});
afterEach(() => small.remove());

const at = (path: string) => join(small.source.root, path);
const out = (path: string) => join(small.vault.root, path);
const LARGE = 120_000;

async function stock(): Promise<void> {
  await small.stocktake(small.source.id);
  await small.stocktake(small.vault.id);
}

const relink = (own: Partial<RelinkSettings> = {}) => small.plan({ kind: 'relink', settings: { scope: null, choices: {}, ...own } });

describe('a graphic that was rendered anew', () => {
  beforeEach(async () => {
    writeFileSync(at('title.wav'), wavBytes(4_800, [], 1));
    writeFileSync(out('backup of title.wav'), wavBytes(4_800, [], 1));
    await stock();
    small.bring(cutTimeline('Cut', [cutOf('title.wav', 0, 2)], 'Audio'));
    writeFileSync(at('title.wav'), wavBytes(4_800, [], 2));
    await stock();
  });

  it('is changed though the old one stands on a backup: the new one is taken, and both are known', async () => {
    expect(await states(small)).toEqual({ 'title.wav title.wav': 'changed' });
    const [group] = ((await relink()).detail as RelinkDetail).groups;
    expect([group!.standing, group!.findable, group!.rows[0]!.chosen]).toEqual([1, 1, null]);
    const taken = await go(small, await relink({ reasons: { changed: 'take-new' } }));
    expect(await states(small)).toEqual({ 'title.wav title.wav': 'present' });
    const { sources } = small.house.catalogue;
    const [clip] = small.house.catalogue.clips.ofProject(small.projectId);
    // A list that names the old one means this clip.
    expect(sources.idByPlace(small.projectId, { shelfId: small.vault.id, path: 'backup of title.wav' })?.id).toBe(clip!.id);
    expect(sources.filesOf(clip!.id).map(({ of, path }) => `${of} ${path}`)).toContain('earlier backup of title.wav');
    await undo(small, taken.id);
    expect(await states(small)).toEqual({ 'title.wav title.wav': 'changed' });
  });

  it('altered between the samples, it is changed once both were read whole', async () => {
    writeFileSync(at('tone.wav'), wavBytes(4 * LARGE, [], 3));
    await stock();
    small.bring(cutTimeline('Tone', [cutOf('tone.wav', 0, 2)], 'Audio'));
    const { catalogue } = small.house;
    const readWhole = () => {
      const item = catalogue.items.at({ shelfId: small.source.id, path: 'tone.wav' })!;
      catalogue.items.recordChecksum(
        item.place,
        item.identity!,
        createHash('sha256')
          .update(readFileSync(at('tone.wav')))
          .digest('hex'),
        'now',
      );
    };
    readWhole();
    const [first, second] = fingerprintSamples(4 * LARGE);
    alterInSecret(at('tone.wav'), Math.floor((first!.offset + first!.length + second!.offset) / 2));
    utimesSync(at('tone.wav'), 1_600_000_000, 1_600_000_000);
    await stock();
    readWhole();
    expect(await states(small)).toHaveProperty(['tone.wav tone.wav'], 'changed');
    const taken = await go(small, await relink({ reasons: { changed: 'take-new' } }));
    expect(await states(small)).toHaveProperty(['tone.wav tone.wav'], 'present');
    await undo(small, taken.id);
    expect(await states(small)).toHaveProperty(['tone.wav tone.wav'], 'changed');
  });

  it('or the old one is gone back to', async () => {
    await go(small, await relink({ reasons: { changed: 'take' } }));
    expect(await states(small)).toEqual({ 'title.wav backup of title.wav': 'present' });
  });
});

describe('a folder that was renamed while a backup holds copies of all its files', () => {
  const read = async () => (await clipsSeen(small)).map(({ place, state }) => `${state} ${place?.path}`).sort();
  const rename = async () => {
    renameSync(at('day 1'), at('DAY ONE'));
    await stock();
  };
  const groups = async (own: Partial<RelinkSettings> = {}) => {
    const plan = await relink(own);
    const detail = plan.detail as RelinkDetail;
    return { plan, told: detail.groups.map(({ title, rows }) => `${title}: ${rows.length}`), counts: [detail.offline, detail.moved] };
  };

  it('is told as one, with what it moved: nothing is offline, and the links follow when they are asked to', async () => {
    for (const [index, name] of ['a', 'b'].entries()) {
      put(small.source.root, `day 1/${name}.wav`, wavBytes(4_800, [], index + 1));
      put(small.vault.root, `backup/${name}.wav`, wavBytes(4_800, [], index + 1));
    }
    await stock();
    small.bring(cutTimeline('Cut', [cutOf('day 1/a.wav', 0, 2), cutOf('day 1/b.wav', 0, 2)], 'Audio'));
    expect((await groups()).told).toEqual([]);
    await rename();
    const looked = await groups();
    expect([looked.told, looked.counts]).toEqual([['A folder was renamed or moved on FOUNDRY-A: 2'], [0, 2]]);
    const advice = async () => (await seen<OverviewView>(small, 'overview')).advice.map(({ title }) => title);
    expect(await advice()).toContain('Relink 2 clips whose files were moved');
    // Nobody asked for it yet.
    expect(looked.plan.blocked).toBe('Nothing is chosen yet.');
    const [group] = (looked.plan.detail as RelinkDetail).groups;
    const made = await go(small, await relink({ reasons: { [group!.key]: 'take' } }));
    expect(await advice()).not.toContain('Relink 2 clips whose files were moved');
    expect([await read(), (await groups()).told]).toEqual([['present DAY ONE/a.wav', 'present DAY ONE/b.wav'], []]);
    await undo(small, made.id);
    expect((await groups()).counts).toEqual([0, 2]);
  });

  it('is not told where the only copy on its shelf lies in a crate', async () => {
    put(small.source.root, 'day 1/a.wav', wavBytes(4_800, [], 1));
    put(small.vault.root, 'backup/a.wav', wavBytes(4_800, [], 1));
    await stock();
    const id = small.bring(cutTimeline('Cut', [cutOf('day 1/a.wav', 0, 2)], 'Audio'));
    const { folderName: _name, ...shared } = pullSettings(small, id);
    await go(small, await small.plan({ kind: 'crate', settings: { ...shared, destination: { shelfId: small.source.id, path: '' }, crateName: 'Sealed', note: '' } })); // prettier-ignore
    unlinkSync(at('day 1/a.wav'));
    await stock();
    const { advice } = await seen<OverviewView>(small, 'overview');
    expect([(await groups()).counts, advice.filter(({ stage }) => stage === 'relink')]).toEqual([[0, 0], []]);
  });

  it('goes before what is found on the backup, whose path is more alike', async () => {
    put(small.source.root, 'day 1/a.wav', wavBytes(4 * LARGE, [], 1));
    await stock();
    small.bring(cutTimeline('Cut', [cutOf('day 1/a.wav', 0, 2)], 'Audio'));
    put(small.vault.root, 'backup/day 1/a.wav', wavBytes(4 * LARGE, [], 1), 1_600_000_000);
    await rename();
    const { told, counts } = await groups();
    expect([told, counts]).toEqual([['A folder was renamed or moved on FOUNDRY-A: 1'], [1, 0]]);
  });
});

it('choices that are no clip of the project are refused; those of a clip that came back are not', async () => {
  writeFileSync(at('a.wav'), wavBytes(4_800, [], 1));
  await stock();
  small.bring(cutTimeline('Cut', [cutOf('a.wav', 0, 2)], 'Audio'));
  await expect(relink({ choices: { nobody: null } })).rejects.toThrow('"nobody" in the choices is no clip of this project');
  const [clip] = small.house.catalogue.clips.ofProject(small.projectId);
  expect((await relink({ choices: { [clip!.id]: null } })).blocked).toBe('Nothing is offline.');
});

it('copies in a crate come last, and say so', async () => {
  writeFileSync(at('a.wav'), wavBytes(LARGE, [], 1));
  await stock();
  const id = small.bring(cutTimeline('Cut', [cutOf('a.wav', 0, 2)], 'Audio'));
  const { folderName: _name, ...shared } = pullSettings(small, id);
  await go(small, await small.plan({ kind: 'crate', settings: { ...shared, crateName: 'Sealed', note: '' } }));
  // The crate holds the only copy: it is read, and goes behind the file as soon as that is back.
  const back = eject(small.source.root);
  expect(await states(small)).toEqual({ 'a.wav Sealed/data/media/sound/a.wav': 'present' });
  back();
  copyFileSync(at('a.wav'), out('a.wav'));
  unlinkSync(at('a.wav'));
  await stock();
  const { catalogue } = small.house;
  const [item] = [catalogue.items.at({ shelfId: small.vault.id, path: 'a.wav' })!];
  expect(catalogue.items.recordChecksum(item.place, item.identity!, catalogue.items.at({ shelfId: small.vault.id, path: 'Sealed/data/media/sound/a.wav' })!.sha256!, 'now')).toBeNull(); // prettier-ignore
  expect(await states(small)).toEqual({ 'a.wav a.wav': 'present' });
});

describe('what looks the same at a destination', () => {
  const copy = () => small.plan({ kind: 'sort', settings: sortSettings(small.vault.id, { action: 'copy', scope: { of: 'folder', place: { shelfId: small.source.id, path: '' } }, rootName: 'Own', emptyFolders: false }) }); // prettier-ignore

  it('is compared: equal in every byte it is left as it is, and the undo leaves it too', async () => {
    put(small.source.root, 'a.wav', wavBytes(LARGE, [], 1));
    put(small.vault.root, 'Own/Sound/a.wav', wavBytes(LARGE, [], 1), 1_600_000_000);
    await stock();
    const plan = await copy();
    const made = await go(small, plan);
    expect(made.rows.find(({ step }) => step.action === 'copy')!.outcome).toMatchObject({
      wasThere: true,
      checked: 'was there already, SHA-256 equal',
    });
    expect(existsSync(out('Own/Sound/a_2.wav'))).toBe(false);
    expect((await copy()).headline.value).toBe(0);
    await undo(small, made.id);
    expect(readFileSync(out('Own/Sound/a.wav')).equals(readFileSync(at('a.wav')))).toBe(true);
  });

  it('and is another file all the same, altered between the samples: nothing is overwritten, and the next plan numbers it', async () => {
    const bytes = wavBytes(4 * LARGE, [], 1);
    put(small.source.root, 'a.wav', bytes);
    const [first, second] = fingerprintSamples(bytes.length);
    mkdirSync(out('Own/Sound'), { recursive: true });
    copyFileSync(at('a.wav'), out('Own/Sound/a.wav'));
    alterInSecret(out('Own/Sound/a.wav'), Math.floor((first!.offset + first!.length + second!.offset) / 2));
    const before = readFileSync(out('Own/Sound/a.wav'));
    await stock();
    const { rows } = await go(small, await copy());
    expect(rows.find(({ step }) => step.action === 'copy')!.message).toContain('it is not the same');
    expect(readFileSync(out('Own/Sound/a.wav')).equals(before)).toBe(true);
    await go(small, await copy());
    expect(readFileSync(out('Own/Sound/a_2.wav')).equals(readFileSync(at('a.wav')))).toBe(true);
  });
});

it('a clip and a project read first what the user wants, and something else while that is away', async () => {
  writeFileSync(at('a.wav'), wavBytes(4_800, [], 1));
  writeFileSync(out('b.wav'), wavBytes(4_800, [], 1));
  await stock();
  small.bring(cutTimeline('Cut', [cutOf('a.wav', 0, 2)], 'Audio'));
  const { catalogue } = small.house;
  const read = async () => (await clipsSeen(small)).map(({ place, copies }) => [place?.path, copies]);
  expect(await read()).toEqual([['a.wav', 2]]);
  catalogue.projects.readFrom(small.projectId, [small.vault.id]);
  expect(await read()).toEqual([['b.wav', 2]]);
  const back = eject(small.vault.root);
  expect(await read()).toEqual([['a.wav', 2]]);
  back();
  catalogue.projects.readFrom(small.projectId, []);
  const [clip] = catalogue.clips.ofProject(small.projectId);
  expect(readFrom(catalogue, clip!.id, { shelfId: small.vault.id, path: 'nowhere.wav' })).toBe(false);
  expect(readFrom(catalogue, clip!.id, { shelfId: small.vault.id, path: 'b.wav' })).toBe(true);
  expect(await read()).toEqual([['b.wav', 2]]);
  // A copy that is another file by now is none.
  renameSync(out('b.wav'), out('c.wav'));
  writeFileSync(out('b.wav'), wavBytes(4_800, [], 7));
  await stock();
  expect((await clipsSeen(small)).map(({ state }) => state)).toEqual(['changed']);
  expect(readFrom(catalogue, clip!.id, null)).toBe(true);
});

it('empty files are copies of nothing', async () => {
  for (const path of [at('a.wav'), out('a.wav')]) writeFileSync(path, '');
  await stock();
  expect(small.house.catalogue.items.copiesOf({ shelfId: small.source.id, path: 'a.wav' })).toEqual([]);
});
