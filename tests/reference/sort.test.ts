/** After a sort every timeline, exported to OTIO, opens in OpenTimelineIO 0.18.1 and names files that stand there; sums by GNU sha256sum. */
import { execFileSync } from 'node:child_process';
import { existsSync } from 'node:fs';
import { join, resolve } from 'node:path';
import { fileURLToPath } from 'node:url';
import { afterEach, beforeEach, expect, it } from 'vitest';
import { makeHouse, type SmallHouse } from '../helpers/small-house';
import { put, sortSettings } from '../helpers/sort-house';
import { cutOf, cutOfSequence, cutTimeline, go, makeFrames, wavBytes } from '../helpers/trust-house';

const SCRIPT = `
import json, sys
import opentimelineio as otio
out = []
for name in sys.argv[1:]:
    for clip in otio.adapters.read_from_file(name).find_clips():
        ref = clip.media_reference
        urls = [ref.target_url] if hasattr(ref, "target_url") else [ref.target_url_for_image_number(i) for i in range(ref.number_of_images_in_sequence())]
        out.append([clip.name, urls])
print(json.dumps(out))
`;

let house: SmallHouse;
beforeEach(() => (house = makeHouse()));
afterEach(() => house.remove());

const sumOf = (path: string) => execFileSync('sha256sum', ['--', path], { encoding: 'utf8' }).slice(0, 64);

it('every timeline resolves in the reference library, to the same bytes', async () => {
  const { root } = house.source;
  const names = ['Day 1/bell: take "one".wav', 'Day 1/100%.wav', 'aux/CON.wav', 'CARD/DCIM/100MILLA/é.wav'];
  names.forEach((name, index) => put(root, name, wavBytes(9_600, [], index)));
  put(root, 'renders/keep.txt', '');
  await makeFrames(join(root, 'renders'), 'pour_', 7, 5);
  await house.stocktake(house.source.id);
  const sums = names.map((name) => sumOf(join(root, name)));
  const ids = [
    house.bring(cutTimeline('One', names.map((name) => cutOf(name, 0, 2)), 'Audio')), // prettier-ignore
    house.bring(cutTimeline('Two', [cutOfSequence('renders', 'pour_', 7, 5, 0, 5), cutOf(names[0]!, 1, 1)])),
  ];
  const settings = sortSettings(house.vault.id, { names: { from: 'pattern', pattern: 'Hour {n:2} {original}', level: 'plain' } });
  const { rows } = await go(house, await house.plan({ kind: 'sort', settings }));
  expect(rows.filter(({ state }) => state !== 'done')).toEqual([]);
  await go(house, await house.plan({ kind: 'export', settings: { timelineIds: ids, format: 'otio', destination: { shelfId: house.vault.id, path: '' }, folderName: 'out' } })); // prettier-ignore
  const files = ['One.otio', 'Two.otio'].map((name) => join(house.vault.root, 'out', name));
  const clips = JSON.parse(execFileSync(resolve('.venv/bin/python'), ['-c', SCRIPT, ...files], { encoding: 'utf8' })) as [string, string[]][];
  expect(clips).toHaveLength(6);
  const paths = clips.map(([, urls]) => urls.map((url) => fileURLToPath(new URL(url, `file://${join(house.vault.root, 'out')}/`))));
  for (const list of paths) for (const path of list) expect(existsSync(path), path).toBe(true);
  expect(paths.slice(0, 4).map(([path]) => sumOf(path!))).toEqual(sums);
  expect(paths[4]).toHaveLength(5);
});

it('a bag that others made is one thing: nothing is moved out of it, and their validator finds it whole afterwards', async () => {
  const { root } = house.source;
  const bagit = (...args: string[]) => execFileSync(resolve('.venv/bin/python'), ['-m', 'bagit', ...args], { stdio: 'pipe' });
  for (const folder of ['Archive 1962', 'Loose/Reel 2']) {
    put(root, `${folder}/one.wav`, wavBytes(4_800, [], 1));
    put(root, `${folder}/sub/notes.txt`, 'paper');
    bagit('--sha256', join(root, folder));
  }
  put(root, 'Loose/free.wav', wavBytes(4_800, [], 2));
  // What only bears the name is none.
  put(root, 'Not one/bagit.txt', 'a letter about bags');
  put(root, 'Not one/two.wav', wavBytes(4_800, [], 3));
  await house.stocktake(house.source.id);
  const settings = (action: 'move' | 'copy') => sortSettings(action === 'move' ? house.source.id : house.vault.id, { action, scope: { of: 'folder', place: { shelfId: house.source.id, path: '' } } }); // prettier-ignore
  const plan = await house.plan({ kind: 'sort', settings: settings('move') });
  const moved = plan.steps.flatMap((step) => (step.action === 'move' ? [step.from!.path] : []));
  expect(moved.sort()).toEqual(['Loose/free.wav', 'Not one/bagit.txt', 'Not one/two.wav']);
  expect(plan.findings.filter(({ code }) => code === 'stays').map(({ message }) => message).sort()).toEqual([
    expect.stringContaining('part of the crate Archive 1962'),
    expect.stringContaining('part of the crate Reel 2'),
  ]); // prettier-ignore
  expect((await go(house, plan)).run.state).toBe('done');
  for (const folder of ['Archive 1962', 'Loose/Reel 2']) bagit('--validate', join(root, folder));
});
