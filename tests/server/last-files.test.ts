/** Files that go: who reads them is asked when the plan is made, and again when its turn comes; the last file of a clip never goes unsaid. */
import { randomUUID } from 'node:crypto';
import { existsSync, mkdirSync, readdirSync, realpathSync, renameSync, rmSync, symlinkSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import type { RemovalDetail } from '../../src/core/planning/remove-proxies/remove-proxies';
import type { RemoveProxiesSettings } from '../../src/core/planning/remove-proxies/settings';
import { rate } from '../../src/core/time/rate';
import { clipsOfItems } from '../../src/server/projects/make-clip';
import { nestingsOf, placesOfFile } from '../../src/server/stock/nested-shelves';
import { registerShelf } from '../../src/server/stock/register-shelf';
import { Study } from '../../src/server/questions/study';
import { eject } from '../helpers/colleague';
import { clipsOfAll, proxyPlan } from '../helpers/proxy-house';
import { clipsSeen, makeHouse, makeIntra, type SmallHouse } from '../helpers/small-house';
import { cutOf, cutOfSequence, cutTimeline, go, makeFrames, pullSettings, undo, wavBytes } from '../helpers/trust-house';

let house: SmallHouse;
beforeEach(() => {
  house = makeHouse();
});
afterEach(() => house.remove());

const at = (name: string) => join(house.source.root, name);
const settings = (own: Partial<RemoveProxiesSettings> = {}): RemoveProxiesSettings => ({ scope: { of: 'project' }, rendition: 'proxy', which: 'all', confirmed: false, ...own }); // prettier-ignore
const removal = async (own: Partial<RemoveProxiesSettings> = {}) => {
  const plan = await house.plan({ kind: 'remove-proxies', settings: settings(own) });
  return { ...plan, detail: plan.detail as RemovalDetail };
};
const proxies = () => (existsSync(join(house.vault.root, 'Proxies')) ? readdirSync(join(house.vault.root, 'Proxies')).sort() : []);

/** Takes `a`, `b` …, each with a proxy on VAULT. */
async function withProxies(...names: string[]): Promise<void> {
  for (const [index, name] of names.entries()) await makeIntra(at(`${name}.mov`), 10, `01:00:0${index}:00`);
  await clipsOfAll(house);
  expect((await go(house, await proxyPlan(house))).run.state).toBe('done');
}

/** Another project whose clip has the file as its source. */
function readElsewhere(path: string, name = 'Trailer'): string {
  const { catalogue } = house.house;
  const other = randomUUID();
  catalogue.projects.add({ id: other, name, rate: rate(25), dropFrame: false, createdAt: new Date().toISOString() });
  const item = catalogue.items.at({ shelfId: house.vault.id, path })!;
  for (const clip of clipsOfItems(other, [{ item, bin: '' }], catalogue, randomUUID)) catalogue.clips.put(other, clip);
  return other;
}

it('a plan is another one when another project begins to read what it would remove', { timeout: 60_000 }, async () => {
  await withProxies('a');
  const study = new Study(house.house.catalogue, house.house.mounts);
  const ask = async () => (await study.answer({ ask: 'plan', projectId: house.projectId, request: { kind: 'remove-proxies', settings: settings() } })) as { digest: string; plan: { stepCounts: Record<string, number> } }; // prettier-ignore
  const before = await ask();
  expect([before.plan.stepCounts.remove, (await ask()).digest === before.digest]).toEqual([1, true]);
  readElsewhere('Proxies/a.mov');
  const after = await ask();
  expect([after.plan.stepCounts.remove ?? 0, after.digest === before.digest]).toEqual([0, false]);
});

it('a removal that waited asks again, and leaves what is read by then', { timeout: 60_000 }, async () => {
  await withProxies('a', 'b');
  const plan = await removal();
  // Between the reading of the sheet and the turn of the run.
  const other = readElsewhere('Proxies/a.mov');
  const { run, rows } = await go(house, plan);
  expect(run.state).toBe('done');
  expect(rows.map(({ outcome }) => outcome?.checked)).toEqual([
    'left where it is: the clip "a" of "Trailer" reads it since',
    'compared before it was removed',
    '1 rendition',
  ]);
  expect(proxies()).toEqual(['a.mov']);
  expect(house.house.catalogue.clips.ofProject(other).length).toBe(1);
});

it('a removal that waited leaves what has become the last file of its clip', { timeout: 60_000 }, async () => {
  await withProxies('a', 'b');
  const plan = await removal({ which: 'spare' });
  rmSync(at('a.mov'));
  await house.stocktake(house.source.id);
  const { rows } = await go(house, plan);
  expect(rows[0]!.outcome?.checked).toMatch(/^left where it is: it is the last file of the clip "a"/);
  expect(proxies()).toEqual(['a.mov']);
});

it('an undo that waited leaves what another project reads by then', async () => {
  writeFileSync(at('bell.wav'), wavBytes(48_000));
  await house.stocktake(house.source.id);
  const cut = house.bring(cutTimeline('Cut', [cutOf('bell.wav', 0, 10)], 'Audio'));
  const { id } = await go(house, await house.plan({ kind: 'pull', settings: pullSettings(house, cut) }));
  await house.stocktake(house.vault.id);
  const plan = await house.plan({ kind: 'undo', settings: { runId: id, confirmed: true } });
  const other = readElsewhere('pulled/media/sound/bell.wav');
  const { rows } = await go(house, plan);
  expect(rows.map(({ outcome }) => outcome?.checked).join('\n')).toContain('the clip "bell" of "Trailer" reads it since');
  expect(existsSync(join(house.vault.root, 'pulled/media/sound/bell.wav'))).toBe(true);
  expect(house.house.catalogue.clips.ofProject(other).length).toBe(1);
});

it('an undo that waited leaves the frames of a sequence that is read by then', async () => {
  mkdirSync(at('pour'));
  await makeFrames(at('pour'), 'pour.', 1001, 8);
  await house.stocktake(house.source.id);
  const cut = house.bring(cutTimeline('Cut', [cutOfSequence('pour', 'pour.', 1001, 8, 0, 8)]));
  const { id } = await go(house, await house.plan({ kind: 'pull', settings: pullSettings(house, cut) }));
  await house.stocktake(house.vault.id);
  const pulled = house.house.catalogue.items.sequencesIn({ shelfId: house.vault.id, path: 'pulled/media/picture/pour' })[0]!.place;
  const plan = await house.plan({ kind: 'undo', settings: { runId: id, confirmed: true } });
  readElsewhere(pulled.path);
  await go(house, plan);
  expect(readdirSync(join(house.vault.root, 'pulled/media/picture/pour')).length).toBe(8);
});

describe('the last file of a clip goes only by a word that names it, however the clip stands now', () => {
  const mustBeNamed = async (state: string) => {
    expect((await clipsSeen(house)).map((clip) => clip.state)).toEqual([state]);
    const asked = await removal();
    expect([asked.blocked, asked.detail.lost]).toEqual(['Read which clips lose their last file, then tick the box.', ['a']]);
    expect(asked.findings[0]!.message).toContain('a loses its last file');
    const sure = await removal({ confirmed: true });
    expect(sure.blocked).toBeNull();
    expect((await go(house, sure)).run.state).toBe('done');
    expect(proxies()).toEqual([]);
  };

  it('behind the stop line', { timeout: 60_000 }, async () => {
    await withProxies('a');
    rmSync(at('a.mov'));
    await house.stocktake(house.source.id);
    house.house.catalogue.projects.readIn(house.projectId, { kinds: ['source', 'finished', 'mezzanine', 'proxy'], stop: 1 });
    await mustBeNamed('not-read');
  });

  it('in the place of a changed source', { timeout: 60_000 }, async () => {
    await withProxies('a');
    writeFileSync(at('a.mov'), 'no film any more');
    await house.stocktake(house.source.id);
    house.house.catalogue.projects.readIn(house.projectId, { kinds: ['source', 'finished', 'mezzanine', 'proxy'], stop: 1 });
    await mustBeNamed('not-read');
  });

  it('set aside', { timeout: 60_000 }, async () => {
    await withProxies('a');
    rmSync(at('a.mov'));
    await house.stocktake(house.source.id);
    const { catalogue } = house.house;
    house.house.catalogue.projects.readIn(house.projectId, { kinds: ['source', 'finished', 'mezzanine', 'proxy'], stop: 1 });
    catalogue.clips.setAside(house.projectId, catalogue.clips.ids(house.projectId), true);
    await mustBeNamed('set-aside');
  });

  it('in a delivery that was set back', { timeout: 60_000 }, async () => {
    await withProxies('a');
    rmSync(at('a.mov'));
    await house.stocktake(house.source.id);
    const { catalogue } = house.house;
    const [clip] = catalogue.clips.ofProject(house.projectId);
    catalogue.clips.setBack(clip!.renditions.filter(({ kind }) => kind === 'proxy').map(({ id }) => id), true); // prettier-ignore
    await mustBeNamed('not-read');
  });

  it('whose source is on a drive that is unplugged', { timeout: 60_000 }, async () => {
    await withProxies('a');
    const back = eject(house.source.root);
    await mustBeNamed('by-proxy');
    back();
  });

  it('of another project, which knows the file as a copy of one on a drive that is unplugged', { timeout: 60_000 }, async () => {
    // The proxy of one is, byte for byte, what the other's clip links on FOUNDRY-A.
    await withProxies('a');
    const { catalogue } = house.house;
    mkdirSync(at('other'));
    writeFileSync(at('other/theirs.mov'), await import('node:fs').then((fs) => fs.readFileSync(join(house.vault.root, 'Proxies/a.mov'))));
    await house.stocktake(house.source.id);
    const theirs = randomUUID();
    catalogue.projects.add({ id: theirs, name: 'Trailer', rate: rate(25), dropFrame: false, createdAt: new Date().toISOString() });
    const item = catalogue.items.at({ shelfId: house.source.id, path: 'other/theirs.mov' })!;
    catalogue.items.recordChecksum(item.place, item.identity!, catalogue.items.at({ shelfId: house.vault.id, path: 'Proxies/a.mov' })!.sha256!, new Date().toISOString()); // prettier-ignore
    for (const clip of clipsOfItems(theirs, [{ item, bin: '' }], catalogue, randomUUID)) catalogue.clips.put(theirs, clip);
    expect((await removal()).detail.rows.map(({ fate }) => fate)).toEqual(['removed']);
    const back = eject(house.source.root);
    expect((await removal()).detail.rows.map(({ fate, why }) => [fate, why])).toEqual([
      ['unlinked', 'its file stays: the project "Trailer" reads it'],
    ]);
    back();
  });
});

it('files that somebody made elsewhere stay, unless they are named as such', { timeout: 60_000 }, async () => {
  await withProxies('a');
  const { catalogue } = house.house;
  const [clip] = catalogue.clips.ofProject(house.projectId);
  const own = clip!.renditions.find(({ kind }) => kind === 'proxy')!;
  catalogue.clips.removeRenditions([own.id]);
  // As a link to what was found beside the source has it.
  catalogue.clips.addRendition(clip!.id, { ...own, id: randomUUID(), made: { ...own.made!, presetId: null } });
  const plan = await removal();
  expect([plan.detail.rows.map(({ fate, why }) => `${fate}: ${why}`), plan.detail.elsewhere]).toEqual([
    ['unlinked: its file stays: it was made elsewhere'],
    1,
  ]);
  const named = await removal({ elsewhere: true });
  expect(named.detail.rows.map(({ fate }) => fate)).toEqual(['removed']);
  await go(house, plan);
  expect(proxies()).toEqual(['a.mov']);
});

describe('a shelf inside another', () => {
  it('is refused, with the folder to choose in its stead; by a link and the other way round too', () => {
    const { catalogue, mounts } = house.house;
    mkdirSync(join(house.vault.root, 'Proxies'));
    expect(() => registerShelf(catalogue, mounts, join(house.vault.root, 'Proxies'))).toThrow(
      'is the folder "Proxies" of VAULT, which is on the list already',
    );
    symlinkSync(join(house.vault.root, 'Proxies'), join(house.folder, 'by another way'));
    expect(() => registerShelf(catalogue, mounts, join(house.folder, 'by another way'))).toThrow('is the folder "Proxies" of VAULT');
    mkdirSync(join(house.folder, 'around/INNER'), { recursive: true });
    registerShelf(catalogue, mounts, join(house.folder, 'around/INNER'));
    expect(() => registerShelf(catalogue, mounts, join(house.folder, 'around'))).toThrow('INNER, which is on the list, lies inside it');
  });

  it('is known by where it lies on its disk, wherever that is mounted', () => {
    mkdirSync(join(house.vault.root, 'Camera B'));
    const [vault, source] = [realpathSync(house.vault.root), realpathSync(house.source.root)];
    // As Linux tells that a folder of VAULT is mounted where FOUNDRY-A is: device, path on it, and where.
    const table = [
      { device: '8:1', root: '/', at: '/', type: 'ext4', source: '/dev/sda1' },
      { device: '8:1', root: join(vault, 'Camera B'), at: source, type: 'ext4', source: '/dev/sda1' },
    ];
    const roots = [
      { shelfId: 'vault', root: vault },
      { shelfId: 'source', root: source },
    ];
    expect(nestingsOf(roots, [table[0]!])).toEqual([]);
    const nestings = nestingsOf(roots, table);
    expect(nestings).toEqual([{ outer: 'vault', inner: 'source', path: 'Camera B' }]);
    expect(placesOfFile({ shelfId: 'source', path: 'a.mov' }, nestings)).toEqual([{ shelfId: 'source', path: 'a.mov' }, { shelfId: 'vault', path: 'Camera B/a.mov' }]); // prettier-ignore
    expect(placesOfFile({ shelfId: 'vault', path: 'Camera B/a.mov' }, nestings)).toEqual([{ shelfId: 'vault', path: 'Camera B/a.mov' }, { shelfId: 'source', path: 'a.mov' }]); // prettier-ignore
    expect(placesOfFile({ shelfId: 'vault', path: 'Camera BB/a.mov' }, nestings).length).toBe(1);
  });

  it('of an older catalogue: what is read through one is not removed through the other', { timeout: 60_000 }, async () => {
    await withProxies('a');
    const { catalogue, mounts } = house.house;
    // Registered while the outer one was away.
    const back = eject(house.vault.root);
    renameSync(join(`${house.vault.root}-ejected`, 'Proxies'), join(house.folder, 'INNER'));
    const inner = registerShelf(catalogue, mounts, join(house.folder, 'INNER'));
    renameSync(join(house.folder, 'INNER'), join(`${house.vault.root}-ejected`, 'Proxies'));
    back();
    mounts.set(inner.id, join(house.vault.root, 'Proxies'));
    await house.stocktake(house.vault.id);
    await house.stocktake(inner.id);
    const theirs = randomUUID();
    catalogue.projects.add({ id: theirs, name: 'Trailer', rate: rate(25), dropFrame: false, createdAt: new Date().toISOString() });
    const item = catalogue.items.at({ shelfId: inner.id, path: 'a.mov' })!;
    for (const clip of clipsOfItems(theirs, [{ item, bin: '' }], catalogue, randomUUID)) catalogue.clips.put(theirs, clip);
    const plan = await removal({ confirmed: true });
    expect(plan.detail.rows.map(({ fate, why }) => [fate, why])).toEqual([['unlinked', 'its file stays: the project "Trailer" reads it']]);
    await go(house, plan);
    expect(readdirSync(join(house.vault.root, 'Proxies'))).toContain('a.mov');
  });
});

it('what an undo would take from another project is told by name', async () => {
  writeFileSync(at('bell.wav'), wavBytes(48_000));
  await house.stocktake(house.source.id);
  const cut = house.bring(cutTimeline('Cut', [cutOf('bell.wav', 0, 10)], 'Audio'));
  const { id } = await go(house, await house.plan({ kind: 'pull', settings: pullSettings(house, cut) }));
  await house.stocktake(house.vault.id);
  const other = readElsewhere('pulled/media/sound/bell.wav');
  rmSync(at('bell.wav'));
  await house.stocktake(house.source.id);
  const plan = await house.plan({ kind: 'undo', settings: { runId: id, confirmed: false } });
  expect(plan.findings.map(({ message }) => message).join('\n')).toContain('bell has no other file on a drive that is plugged in.');
  await undo(house, id);
  expect(existsSync(join(house.vault.root, 'pulled/media/sound/bell.wav'))).toBe(false);
  expect(house.house.catalogue.clips.ofProject(other).length).toBe(1);
});
