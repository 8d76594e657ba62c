/** Encoding against plain ffmpeg with the same settings, and two at a time against one after the other. Nothing here passes or fails. */
import { execFileSync } from 'node:child_process';
import { randomUUID } from 'node:crypto';
import { mkdirSync, mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import type { ProxySettings } from '../src/core/planning/proxies/settings';
import type { PresetId } from '../src/core/rendition/presets';
import type { EncodeStep } from '../src/core/planning/plan/step';
import { House } from '../src/server/house';
import { makePlan } from '../src/server/kinds/make-plan';
import { encodeArguments } from '../src/server/media/encode-arguments';
import { clipOfItems } from '../src/server/projects/make-clip';
import { registerShelf } from '../src/server/stock/register-shelf';
import { closeThreads } from '../src/server/threads/pool';
import { configOf } from './made-up';
import { THIS_MACHINE } from '../src/server/runs/actor';
import { takeStockOf } from '../src/server/usecases/shelves';

const FILES = 4;
const folder = mkdtempSync(join(process.env.MILL_SHELF_BENCH ?? tmpdir(), 'mill-bench-'));
const root = join(folder, 'SHELF');
mkdirSync(root);
for (let index = 0; index < FILES; index++)
  execFileSync('ffmpeg', [
    '-v', 'error', '-f', 'lavfi', '-i', `testsrc2=s=1920x1080:r=25:d=8`, '-f', 'lavfi', '-i', 'anoisesrc=r=48000:d=8', '-c:v', 'prores', '-pix_fmt', 'yuv422p10le',
    '-c:a', 'pcm_s24le', '-timecode', '10:00:00:00', join(root, `take ${index}.mov`),
  ]); // prettier-ignore
const house = new House(configOf(folder));
const { id } = registerShelf(house.catalogue, house.mounts, root);
await house.runner.finished(await takeStockOf(house, THIS_MACHINE, { id, name: 'SHELF' }));
house.catalogue.projects.add({ id: 'p', name: 'Bronze Hour', rate: { num: 25, den: 1 }, dropFrame: false, createdAt: '2026-11-26T00:00:00Z' });
for (const item of house.catalogue.items.onShelf(id)) house.catalogue.clips.put('p', clipOfItems([item], '', randomUUID));

const seconds = async (work: () => unknown): Promise<number> => {
  const began = performance.now();
  await work();
  return (performance.now() - began) / 1000;
};

for (const presetId of ['courier', 'thread'] satisfies PresetId[]) {
  const settings: ProxySettings = {
    scope: { of: 'project' }, presetId, size: { by: 'share', share: 2 }, quality: 0, sound: 'all', alphaIsOwn: false, slates: false,
  parts: false, onlyLacking: false, burnIn: null, destination: { shelfId: id, path: '' }, folderName: presetId, layout: 'flat', asHome: false, leave: [], order: null,
  }; // prettier-ignore
  const plan = await makePlan(house.catalogue, house.mounts, 'p', { kind: 'proxies', settings });
  const steps = plan.steps.filter((step): step is EncodeStep => step.action === 'encode');
  const plain = await seconds(() => {
    for (const [index, step] of steps.entries()) {
      const source = { path: house.mounts.resolve(step.from!), facts: step.facts };
      execFileSync('ffmpeg', ['-v', 'error', '-nostdin', ...encodeArguments(source, join(folder, `plain ${index}.mov`), step.recipe, new Map())]);
    }
  });
  const own = await seconds(async () => {
    const { state } = await house.runner.finished(house.runner.submit(plan));
    if (state !== 'done') throw new Error(`the encoding came out ${state}`);
  });
  console.log(
    `${plan.title}: ${FILES} files, encoded, counted, compared, read back, two at a time ${own.toFixed(1)} s; plain ffmpeg one after the other ${plain.toFixed(1)} s, ratio ${(own / plain).toFixed(2)}`,
  );
}
await house.close();
await closeThreads();
rmSync(folder, { recursive: true, force: true });
