/**
 * Every reader of foreign bytes on files that were good once, in processes of their own with limits of memory and time:
 * none ends the process, takes longer than two seconds, or throws what is no word for the user. MILL_SEED takes others.
 */
import { spawnSync } from 'node:child_process';
import { mkdtempSync, readdirSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join, resolve } from 'node:path';
import { buildSync } from 'esbuild';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { runTool } from '../../src/server/media/ffmpeg';
import { makeHouse, makeIntra } from '../helpers/small-house';
import { wavBytes } from '../helpers/trust-house';

const folder = mkdtempSync(join(resolve('.'), '.fuzz-'));
const media = mkdtempSync(join(tmpdir(), 'mill-fuzz-'));
const script = join(folder, 'fuzz-readers.mjs');
const seed = process.env.MILL_SEED ?? '7';
const vector = (name: string) => resolve('tests/reference/vectors', name);

beforeAll(async () => {
  buildSync({ entryPoints: ['tests/helpers/fuzz-readers.ts'], bundle: true, platform: 'node', format: 'esm', target: 'node20', packages: 'external', outfile: script, logLevel: 'error' }); // prettier-ignore
  const ixml = Buffer.from('<BWFXML><TAPE>A001</TAPE><FAMILY_UID>x</FAMILY_UID></BWFXML>\0');
  const chunk = Buffer.concat([Buffer.from('iXML'), Buffer.from(Uint32Array.of(ixml.length).buffer), ixml]);
  const wav = wavBytes(4800);
  writeFileSync(join(media, 'a.wav'), Buffer.concat([wav, chunk]));
  writeFileSync(join(media, 'x.xml'), ixml);
  writeFileSync(join(media, 'list.csv'), 'Name;Reel;File;In;Out\nFork;A001;a.mov;10:00:00:00;10:00:01:00\nLadle;A002;b.mov;;\n');
  writeFileSync(join(media, 'bag.txt'), `${'ab'.repeat(32)}  data/a.mov\nBagging-Date: 2026-11-26\nNote: one\n  two\n`);
  await makeIntra(join(media, 'a.mov'), 10, '10:00:00:00');
  for (const [name, codec] of [['a.png', 'png'], ['a.dpx', 'dpx'], ['a.tif', 'tiff'], ['a.jpg', 'mjpeg']] as const) // prettier-ignore
    await runTool('ffmpeg', ['-f', 'lavfi', '-i', 'testsrc2=size=64x36:duration=1:rate=1', '-frames:v', '1', '-update', '1', '-c:v', codec, join(media, name)]); // prettier-ignore
});
afterAll(() => [folder, media].forEach((path) => rmSync(path, { recursive: true, force: true })));

describe.each([
  ['timeline', 400, [vector('edl/reel_1.edl'), vector('edl/flat.edl'), vector('otio/fine_cut_1.otio'), vector('otio/bins.otio'), 'list.csv']],
  ['bag', 1500, ['bag.txt']],
  ['xml', 1500, ['x.xml']],
  ['wav', 400, ['a.wav']],
  ['zip', 400, [vector('otio/bundle.otioz')]],
  ['media', 36, ['a.mov', 'a.wav', 'a.png', 'a.dpx', 'a.tif', 'a.jpg']],
] as const)('%s', (reader, count, files) => {
  it(`${count} broken files`, () => {
    const paths = files.map((file) => (file.startsWith('/') ? file : join(media, file)));
    const args = ['--max-old-space-size=700', script, reader, seed, String(count), media, ...paths];
    const { status, stdout, stderr } = spawnSync(process.execPath, args, { encoding: 'utf8', timeout: 110_000, maxBuffer: 1e8 });
    expect([status, stderr.slice(0, 2000)]).toEqual([0, '']);
    const answer = JSON.parse(stdout) as { cases: number; slowestMs: number; wrong: string[] };
    expect(answer.wrong).toEqual([]);
    expect(answer.cases).toBe(count);
    expect(answer.slowestMs).toBeLessThan(2000);
  }, 120_000);
});

it('a shelf of broken files: each is an item, those that cannot be read with a word', async () => {
  const small = makeHouse();
  try {
    const names = readdirSync(media).filter((name) => !name.startsWith('fuzz-'));
    names.forEach((name, index) => {
      const whole = spawnSync('head', ['-c', String(100 + index * 37), join(media, name)]).stdout;
      writeFileSync(join(small.source.root, `broken ${name}`), whole);
    });
    const stocked = await small.stocktake(small.source.id);
    const items = small.house.catalogue.items.onShelf(small.source.id);
    expect(items.map((item) => item.place.path).sort()).toEqual(names.map((name) => `broken ${name}`).sort());
    for (const item of items) expect([item.place.path, item.problem !== null || item.facts.kind !== 'video']).toEqual([item.place.path, true]);
    expect(stocked).toMatchObject({ state: 'done', files: names.length, doneFiles: names.length, message: null }); // prettier-ignore
  } finally {
    await small.remove();
  }
});
