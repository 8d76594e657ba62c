/** Timelines on their way in and out: exports, bundles and bridges, with real media and real runs. */
import { execFileSync } from 'node:child_process';
import { existsSync, mkdirSync, readdirSync, readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import yazl from 'yazl';
import {
  clipDocument,
  externalReference,
  formatOtio,
  rationalTime,
  timelineDocument,
  timeRange,
  trackDocument,
} from '../../src/core/interchange/otio/otio-writer';
import type { ExportFormat } from '../../src/core/planning/export/settings';
import type { Plan } from '../../src/core/planning/plan/plan';
import { readBridges } from '../../src/server/bridges/bridges';
import { runBridge } from '../../src/server/bridges/run-bridge';
import { decodeText } from '../../src/server/projects/decode-text';
import { cut, PAL, timeline } from '../helpers/snapshots';
import { eject } from '../helpers/colleague';
import { clipsSeen, makeHouse, makeIntra, type SmallHouse } from '../helpers/small-house';

let small: SmallHouse;
beforeEach(() => {
  small = makeHouse();
});
afterEach(() => small.remove());

const runPlan = async (plan: Plan) => {
  const { runner, catalogue } = small.house;
  const done = await runner.finished(runner.submit(plan));
  return { done, rows: catalogue.runs.steps(done.id) };
};
const exported = async (format: ExportFormat, timelineIds: string[], folderName = 'out') => {
  const plan = await small.plan({
    kind: 'export',
    settings: { timelineIds, format, destination: { shelfId: small.vault.id, path: '' }, folderName },
  });
  return { plan, ...(await runPlan(plan)) };
};
const out = (...path: string[]) => join(small.vault.root, 'out', ...path);
const sha256 = (path: string) => execFileSync('sha256sum', [path], { encoding: 'utf8' }).slice(0, 64);

/** A project with one file of a hostile name, present, and one that is nowhere. */
async function bell(): Promise<string> {
  mkdirSync(join(small.source.root, 'Day 1'));
  await makeIntra(join(small.source.root, 'Day 1', 'A001 50% #1.mov'), 50, '10:00:00:00');
  await small.stocktake(small.source.id);
  const there = clipDocument(
    'Bell',
    timeRange(900_005, 20, PAL),
    externalReference('file:///Volumes/FOUNDRY-A/Day%201/A001%2050%25%20%231.mov', 'Bell', timeRange(900_000, 50, PAL)),
  );
  return small.bring(timelineDocument('Bell cut', rationalTime(90_000, PAL), [trackDocument('V1', 'Video', [there, cut('/gone/lost.mov', 0, 10)])]));
}

describe('export', () => {
  it('OTIO links follow the files; what is offline keeps its address and is told', async () => {
    const { plan, done } = await exported('otio', [await bell()]);
    expect([done.state, plan.findings.map((finding) => finding.code)]).toEqual(['done', []]);
    const document = JSON.parse(readFileSync(out('Bell cut.otio'), 'utf8')) as {
      tracks: { children: { children: { media_references: { DEFAULT_MEDIA: { target_url: string } } }[] }[] };
    };
    const urls = document.tracks.children[0]!.children.map((clip) => clip.media_references.DEFAULT_MEDIA.target_url);
    expect(urls[0]).toBe(`file://${encodeURI(small.source.root)}/Day%201/A001%2050%25%20%231.mov`);
    expect(urls[1]).toBe('/gone/lost.mov');
  });

  it('EDL takes the reel the file carries; a clip list has a row an event; both are undone by their run', async () => {
    const id = await bell();
    const edl = await exported('edl', [id]);
    expect(readFileSync(out('Bell cut V1.edl'), 'utf8')).toMatch(/^001 {2}A001 {5}V {5}C {8}10:00:00:05 10:00:01:00 01:00:00:00 01:00:00:20$/m);
    await exported('csv', [id]);
    expect(readFileSync(out('Bell cut.csv'), 'utf8').split('\r\n')[1]).toBe('Bell,A001 50% #1.mov,A001,10:00:00:00,10:00:00:05,10:00:01:00,,');
    await runPlan(await small.plan({ kind: 'undo', settings: { runId: edl.done.id } }));
    expect(readdirSync(out())).toEqual(['Bell cut.csv']);
  });

  it('a second export never overwrites the first', async () => {
    const id = await bell();
    await exported('csv', [id]);
    await exported('csv', [id]);
    expect(readdirSync(out()).sort()).toEqual(['Bell cut.csv', 'Bell cut_2.csv']);
  });

  it('says why nothing can be written', async () => {
    const id = await bell();
    const plan = (destination: null, timelineIds: string[]) =>
      small.plan({ kind: 'export', settings: { timelineIds, format: 'otio', destination, folderName: '' } });
    expect((await plan(null, [id])).blocked).toBe('No destination is chosen.');
    expect((await plan(null, [])).blocked).toBe('No timeline is chosen.');
  });
});

describe('bundles', () => {
  it('pack media as it is, and come back whole on another shelf, linked', async () => {
    const { plan, done } = await exported('otioz', [await bell()]);
    expect([done.state, plan.findings.map((finding) => finding.code)]).toEqual(['done', ['media-offline']]);
    const bundle = out('Bell cut.otioz');
    execFileSync('unzip', ['-tq', bundle]);
    await small.stocktake(small.vault.id);
    const settings = {
      bundle: { shelfId: small.vault.id, path: 'out/Bell cut.otioz' },
      destination: { shelfId: small.vault.id, path: '' },
      folderName: 'back',
    };
    const unpack = await runPlan(await small.plan({ kind: 'unpack', settings }));
    expect(unpack.done.state, JSON.stringify(unpack.rows.map((row) => row.message))).toBe('done');
    const names = readdirSync(join(small.vault.root, 'back/media'));
    expect(names).toHaveLength(1);
    expect(sha256(join(small.vault.root, 'back/media', names[0]!))).toBe(sha256(join(small.source.root, 'Day 1', 'A001 50% #1.mov')));
    // What came back says of which source it is: no other clip. Packing notes no checksum, so it is no proven copy yet.
    const present = async () => (await clipsSeen(small)).filter((view) => view.state === 'present').map((view) => [view.place?.path, view.copies]);
    expect(await present()).toEqual([['Day 1/A001 50% #1.mov', 1]]);
    const { catalogue } = small.house;
    const source = catalogue.items.at({ shelfId: small.source.id, path: 'Day 1/A001 50% #1.mov' })!;
    catalogue.items.recordChecksum(source.place, source.identity!, sha256(join(small.source.root, source.place.path)), new Date().toISOString());
    const back = eject(small.source.root);
    expect(await present()).toEqual([[`back/media/${names[0]}`, 2]]);
    back();
    // Again: nothing is overwritten.
    expect((await small.plan({ kind: 'unpack', settings })).blocked).toContain('stands there already');
  });

  it('a folder bundle holds the same', async () => {
    const { done } = await exported('otiod', [await bell()]);
    expect(done.state).toBe('done');
    expect(readdirSync(out('Bell cut.otiod')).sort()).toEqual(['content.otio', 'media', 'version.txt']);
  });

  it('a damaged one is told by its own checksum and leaves nothing behind; one that leads out is refused', async () => {
    await exported('otioz', [await bell()]);
    const bytes = readFileSync(out('Bell cut.otioz'));
    bytes[Math.floor(bytes.length / 2)]! ^= 0xff;
    writeFileSync(out('bad.otioz'), bytes);
    const settings = (path: string) => ({
      bundle: { shelfId: small.vault.id, path },
      destination: { shelfId: small.vault.id, path: '' },
      folderName: 'bad',
    });
    const { done, rows } = await runPlan(await small.plan({ kind: 'unpack', settings: settings('out/bad.otioz') }));
    expect([done.state, rows[0]!.message]).toEqual(['failed', expect.stringContaining('The bundle is damaged')]);
    expect(existsSync(join(small.vault.root, 'bad/media')) ? readdirSync(join(small.vault.root, 'bad/media')) : []).toEqual([]);
    expect(rows.at(-1)!.state).toBe('skipped');

    const zip = new yazl.ZipFile();
    zip.addBuffer(Buffer.from('{}'), 'content.otio');
    zip.addBuffer(Buffer.from('x'), 'media/aa/aa/evil.mov');
    zip.end();
    const pieces: Buffer[] = [];
    for await (const piece of zip.outputStream) pieces.push(piece as Buffer);
    // The same length, so that the archive stays whole: a name that climbs out.
    writeFileSync(
      out('sly.otioz'),
      Buffer.from(Buffer.concat(pieces).toString('latin1').replaceAll('media/aa/aa/evil', 'media/../../evil'), 'latin1'),
    );
    await expect(small.plan({ kind: 'unpack', settings: settings('out/sly.otioz') })).rejects.toThrow(/no ZIP file that can be read.*\.\./);
    writeFileSync(out('text.otioz'), 'not a zip');
    await expect(small.plan({ kind: 'unpack', settings: settings('out/text.otioz') })).rejects.toThrow('no ZIP file');
  });
});

describe('a bridge', () => {
  const bridge = (script: string, timeLimitSeconds = 10) => ({
    name: 'Test',
    endings: ['.cuts'],
    command: [process.execPath, '-e', script, '{input}', '{output}'],
    timeLimitSeconds,
  });
  const run = (script: string, seconds?: number) => runBridge(bridge(script, seconds), 'x; rm -rf $HOME `evil`.cuts', Buffer.from('hello'));
  const write = `require('fs').writeFileSync(process.argv[2], require('fs').readFileSync(process.argv[1], 'utf8').toUpperCase())`;

  it('reads the file and writes OTIO; what it prints is kept', async () => {
    expect(await run(`${write}; console.log('one'); console.error('two')`)).toMatchObject({
      text: 'HELLO',
      findings: [
        { code: 'bridge-said', message: 'one', where: 'Test' },
        { code: 'bridge-said', message: 'two' },
      ],
    });
  });

  it('works in a folder of its own, which goes, and sees nothing of the server’s surroundings', async () => {
    const { text } = await run(
      `require('fs').writeFileSync(process.argv[2], JSON.stringify([process.cwd(), Object.keys(process.env).sort(), process.argv[1]]))`,
    );
    const [folder, names, input] = JSON.parse(text) as [string, string[], string];
    expect(names.filter((name) => !['HOME', 'LANG', 'PATH', 'MILL_SHELF_COMMAND'].includes(name))).toEqual([]);
    expect(input).toBe(join(folder, 'input.cuts'));
    expect(existsSync(folder)).toBe(false);
  });

  it('that fails, hangs, writes nothing or is not there says so', async () => {
    await expect(run(`console.error('line 3 is odd'); process.exit(3)`)).rejects.toThrow('failed (exit code 3). It said: line 3 is odd');
    await expect(run('setInterval(() => {}, 1000)', 1)).rejects.toThrow('longer than 1 seconds');
    await expect(run('0')).rejects.toThrow('wrote no {output}');
    await expect(runBridge({ ...bridge(''), command: ['/no/such/program'] }, 'a.cuts', Buffer.from(''))).rejects.toThrow('cannot be started');
  });

  it('list that cannot be used is told, not guessed', () => {
    const file = join(small.folder, 'bridges.json');
    expect(readBridges(file)).toEqual({ bridges: [], problem: null });
    writeFileSync(file, '{"bridges": [{"name": "x", "endings": ["cuts"], "command": ["a"]}]}');
    expect(readBridges(file).problem).toContain('cannot be used');
    writeFileSync(file, '{');
    expect(readBridges(file).problem).toContain('cannot be read');
  });
});

it('a list in an old code page is read, with a note', () => {
  expect(decodeText(Buffer.from('* FROM CLIP NAME: L\xE4ute', 'latin1'))).toMatchObject({
    text: '* FROM CLIP NAME: Läute',
    findings: [{ code: 'text-encoding' }],
  });
  expect(decodeText(Buffer.from('\ufeffTITLE: Läute', 'utf16le')).text).toContain('Läute');
});

it('the same timeline twice is told and not doubled; a newer version stands beside it', async () => {
  const document = timeline('Cut v1', [cut('/m/a.mov', 0, 10)]);
  const [first, second] = [small.bring(document), small.bring(document)];
  expect(second).toBe(first);
  const newer = small.bring({ ...timeline('Cut v2', [cut('/m/a.mov', 5, 10)]) });
  expect(small.house.catalogue.timelines.entries(small.projectId).map((row) => row.id)).toEqual([first, newer]);
  expect(await clipsSeen(small)).toHaveLength(1);
  expect(formatOtio(document)).toContain('Cut v1');
});
