/** Catalogues that were made before a source was one clip: its clips become one on a sheet, and the undo of what was before goes on working. */
import { writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { randomUUID } from 'node:crypto';
import { afterEach, beforeEach, expect, it } from 'vitest';
import type { JoinClipsDetail } from '../../../src/core/planning/join-clips/join-clips';
import type { OverviewView } from '../../../src/server/projects/views/project';
import { clipOfItem } from '../../helpers/clips';
import { clipsSeen, makeHouse, seen, type SmallHouse } from '../../helpers/small-house';
import { cutOf, cutTimeline, go, undo, wavBytes } from '../../helpers/trust-house';

let small: SmallHouse;
beforeEach(async () => {
  small = makeHouse();
  for (const [index, name] of ['one.wav', 'two.wav'].entries()) writeFileSync(join(small.source.root, name), wavBytes(9_600, [], index));
  writeFileSync(join(small.vault.root, 'copy of one.wav'), wavBytes(9_600, [], 0));
  await small.stocktake(small.source.id);
  await small.stocktake(small.vault.id);
});
afterEach(() => small.remove());

/** As an earlier version made it: a clip for each path. */
function clipAt(shelfId: string, path: string, own: object): string {
  const { catalogue } = small.house;
  const clip = { ...clipOfItem(catalogue.items.at({ shelfId, path })!), ...own };
  catalogue.clips.put(small.projectId, clip);
  return clip.id;
}

const told = async () => (await clipsSeen(small)).map(({ name, binPath, note, events }) => ({ name, binPath, note, events }));
const plan = () => small.plan({ kind: 'join-clips', settings: {} });

it('bins, notes, names and proxies of each are kept; the undo brings all of them back', async () => {
  small.bring(cutTimeline('Cut', [cutOf('one.wav', 0, 5), cutOf('two.wav', 0, 5), cutOf('one.wav', 10, 5)], 'Audio'));
  const { catalogue } = small.house;
  const copy = clipAt(small.vault.id, 'copy of one.wav', { name: 'Tuning fork', binPath: 'Sound', note: 'clear', mediaKey: randomUUID() });
  const proxy = { id: randomUUID(), kind: 'proxy' as const, links: catalogue.clips.ofProject(small.projectId)[0]!.renditions[0]!.links };
  const before = catalogue.clips.ofProject(small.projectId);
  catalogue.clips.addRendition(before.find(({ name }) => name === 'one.wav')!.id, proxy);
  const first = await told();
  const sheet = await plan();
  expect([sheet.headline.value, (sheet.detail as JoinClipsDetail).rows]).toMatchObject([
    1,
    [{ name: 'Tuning fork', bin: 'Sound', others: ['one.wav'], why: null }],
  ]);
  expect((await seen<OverviewView>(small, 'overview')).advice.map(({ title }) => title)).toContain('Join 2 clips of 1 source');
  const done = await go(small, sheet);
  expect(await told()).toEqual([
    { name: 'Tuning fork', binPath: 'Sound', note: 'clear', events: 2 },
    { name: 'two.wav', binPath: '', note: '', events: 1 },
  ]);
  const [one] = catalogue.clips.ofProject(small.projectId);
  expect([one!.id, one!.renditions.map(({ kind }) => kind), one!.renditions[0]!.links[0]!.expected.told!.names]).toEqual([
    copy,
    ['source', 'proxy'],
    ['one.wav'],
  ]);
  // Either file is this clip from now on, and the sheet has nothing more to say.
  expect([small.source.id, small.vault.id].map((shelfId, index) => catalogue.sources.idByPlace(small.projectId, { shelfId, path: ['one.wav', 'copy of one.wav'][index]! })?.id)).toEqual([copy, copy]); // prettier-ignore
  expect((await plan()).blocked).toBe('Every source has one clip.');
  await undo(small, done.id);
  expect(await told()).toEqual(first);
  expect(catalogue.clips.ofProject(small.projectId).map(({ renditions }) => renditions.map(({ id, kind }) => `${kind} ${id}`).join()).sort()).toEqual(
    [...before.map(({ renditions }) => renditions.map(({ id, kind }) => `${kind} ${id}`).join())].map((text) => (text.includes(before.find(({ name }) => name === 'one.wav')!.renditions[0]!.id) ? `${text},proxy ${proxy.id}` : text)).sort(),
  ); // prettier-ignore
});

it('what counts its first frame otherwise stays apart, and says so', async () => {
  small.bring(cutTimeline('Cut', [cutOf('one.wav', 0, 5)], 'Audio'));
  const start = { value: 900_000, rate: { num: 25, den: 1 } };
  clipAt(small.vault.id, 'copy of one.wav', { name: 'Other', mediaKey: randomUUID(), mediaStart: start });
  const sheet = await plan();
  expect([sheet.blocked, sheet.findings.map(({ code }) => code)]).toEqual(['None of them can be joined.', ['count-otherwise']]);
});

it('asks again when it runs: what was relinked since is another source', async () => {
  small.bring(cutTimeline('Cut', [cutOf('one.wav', 0, 5), cutOf('two.wav', 0, 5)], 'Audio'));
  clipAt(small.vault.id, 'copy of one.wav', { name: 'Other', mediaKey: randomUUID() });
  const sheet = await plan();
  const { catalogue } = small.house;
  const [other, , two] = catalogue.clips.ofProject(small.projectId);
  catalogue.clips.relink(other!.renditions[0]!.id, 0, two!.renditions[0]!.links[0]!);
  const { rows } = await go(small, sheet);
  expect([rows[0]!.state, rows[0]!.message]).toEqual(['failed', expect.stringContaining('not one source any more')]);
  expect((await told()).length).toBe(3);
});
