/** A crate beside the project as it is now: nothing is said to be in the crate that is not. */
import { cpSync, readFileSync, renameSync, rmSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { afterEach, beforeEach, expect, it } from 'vitest';
import type { OtioObject } from '../../../src/core/interchange/otio/otio-types';
import { clipDocument, externalReference, timeRange } from '../../../src/core/interchange/otio/otio-writer';
import type { CompareCratesDetail } from '../../../src/core/planning/compare-crates/compare-crates';
import type { CrateSettings } from '../../../src/core/planning/crate/settings';
import type { Plan } from '../../../src/core/planning/plan/plan';
import { makeHouse, makeIntra, type SmallHouse } from '../../helpers/small-house';
import { cutTimeline, go, PAL, pullSettings } from '../../helpers/trust-house';

let house: SmallHouse;
beforeEach(() => {
  house = makeHouse();
});
afterEach(() => house.remove());

/** The same pictures, encoded otherwise: another file. */
const OTHER = ['-c:v', 'prores', '-profile:v', '0', '-pix_fmt', 'yuv422p10le'];
const START = 10 * 3600 * 25;
const at = (name: string) => join(house.source.root, `${name}.mov`);
const shot = (name: string, from: number, frames: number): OtioObject =>
  clipDocument(name, timeRange(START + from, frames, PAL), externalReference(`file://${at(name)}`, name, timeRange(START, 60, PAL)));

async function makeCrate(timelineId: string, name: string, more: Partial<CrateSettings> = {}): Promise<string> {
  const { folderName: _folder, ...shared } = pullSettings(house, timelineId, { media: 'parts', headFrames: 2, tailFrames: 2 });
  await go(house, await house.plan({ kind: 'crate', settings: { ...shared, crateName: name, note: '', ...more } }));
  return house.house.catalogue.crates.ofProject(house.projectId).find((crate) => crate.name === name)!.id;
}

async function against(before: string): Promise<Plan<CompareCratesDetail>> {
  return (await house.plan({ kind: 'compare-crates', settings: { before, after: null } })) as Plan<CompareCratesDetail>;
}

const told = ({ detail }: Plan<CompareCratesDetail>) =>
  detail.rows.map(({ path, change, words }) => `${path}: ${change}${words === undefined ? '' : `, ${words}`}`);
const codes = ({ findings }: Plan) => findings.map(({ code }) => code);

it('tells what it holds whole, in all used frames, not in all of them, and not at all', async () => {
  for (const name of ['ladle', 'yard', 'bell', 'gate']) await makeIntra(at(name), 60, '10:00:00:00');
  await house.stocktake(house.source.id);
  const cut = house.bring(cutTimeline('Cut', [shot('ladle', 5, 10), shot('yard', 20, 10), shot('bell', 0, 60)]));
  const crate = await makeCrate(cut, 'First');
  const shelf = house.house.catalogue.shelves.get(house.source.id)!.name;
  const same = await against(crate);
  expect(told(same)).toEqual([`${shelf}/bell.mov: same`, `${shelf}/ladle.mov: part, 14 of 60`, `${shelf}/yard.mov: part, 14 of 60`]);
  expect([same.detail.timelines, same.headline.value, codes(same)]).toEqual([[{ name: 'Cut', words: 'the same 3 events' }], 0, ['crate-compare']]);
  // The cut goes on: one shot grows beyond its handles, one comes, under the same name.
  house.house.catalogue.timelines.remove(house.projectId, cut);
  house.bring(cutTimeline('Cut', [shot('ladle', 5, 20), shot('yard', 20, 10), shot('bell', 0, 60), shot('gate', 3, 9)]));
  const later = await against(crate);
  expect(told(later)).toEqual([`${shelf}/bell.mov: same`, `${shelf}/gate.mov: added`, `${shelf}/ladle.mov: short, 8 of 20 used`, `${shelf}/yard.mov: part, 14 of 60`]); // prettier-ignore
  expect(later.detail.timelines).toEqual([{ name: 'Cut', words: '1 added, 1 trimmed; 4 events after' }]);
  expect(later.headline.value).toBe(2);
});

it('another file under the name of the source is other content; a file taken out of the crate is no holding', async () => {
  for (const name of ['ladle', 'yard']) await makeIntra(at(name), 60, '10:00:00:00');
  await house.stocktake(house.source.id);
  const cut = house.bring(cutTimeline('Cut', [shot('ladle', 5, 10), shot('yard', 0, 60)]));
  const crate = await makeCrate(cut, 'First');
  await makeIntra(at('next'), 60, '10:00:00:00', '25', OTHER);
  rmSync(at('ladle'));
  renameSync(at('next'), at('ladle'));
  await house.stocktake(house.source.id);
  const shelf = house.house.catalogue.shelves.get(house.source.id)!.name;
  expect(told(await against(crate))).toEqual([`${shelf}/ladle.mov: changed`, `${shelf}/yard.mov: same`]);
  // Away with a file of the crate: it says so, and holds it no more.
  rmSync(join(house.vault.root, 'First/data/media/picture/yard.mov'));
  await house.stocktake(house.vault.id);
  const less = await against(crate);
  expect([told(less)[1], codes(less)]).toEqual([`${shelf}/yard.mov: added`, expect.arrayContaining(['crate-not-whole'])]);
});

it('what the crate says of a source counts for no other one of the same name, and not where its timelines cannot be read', async () => {
  await makeIntra(at('ladle'), 60, '10:00:00:00');
  await house.stocktake(house.source.id);
  const cut = house.bring(cutTimeline('Cut', [shot('ladle', 5, 10)]));
  const crate = await makeCrate(cut, 'First');
  // A twin in another folder, of other pictures, under the same name and timecode.
  cpSync(at('ladle'), join(house.source.root, 'two-ladle.mov'));
  await makeIntra(join(house.source.root, 'twin.mov'), 60, '10:00:00:00', '25', OTHER);
  await house.stocktake(house.source.id);
  const twin = clipDocument('ladle', timeRange(START + 5, 10, PAL), externalReference(`file://${join(house.source.root, 'twin.mov')}`, 'ladle', timeRange(START, 60, PAL))); // prettier-ignore
  house.bring(cutTimeline('Other', [twin]));
  const shelf = house.house.catalogue.shelves.get(house.source.id)!.name;
  expect(told(await against(crate))).toEqual([`${shelf}/ladle.mov: part, 14 of 60`, `${shelf}/twin.mov: added`]);
  const list = join(house.vault.root, 'First/bagit.txt');
  const kept = readFileSync(list, 'utf8');
  rmSync(list);
  const blind = await against(crate);
  expect([told(blind).filter((line) => line.includes('ladle')), codes(blind)]).toEqual([expect.arrayContaining([`${shelf}/ladle.mov: added`]), expect.arrayContaining(['crate-timelines-away'])]); // prettier-ignore
  writeFileSync(list, kept);
});
