/** Light copies and mezzanines made of real media of many kinds, judged by ffprobe; linked, taken back, made again. */
import { randomUUID } from 'node:crypto';
import { appendFileSync, existsSync, mkdirSync, readdirSync, readFileSync, rmSync, statSync, utimesSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import type { ProxyDetail } from '../../src/core/planning/proxies/proxies';
import type { ProxySettings } from '../../src/core/planning/proxies/settings';
import type { RelinkDetail } from '../../src/core/planning/relink/relink';
import type { RemovalDetail } from '../../src/core/planning/remove-proxies/remove-proxies';
import type { RemoveProxiesSettings } from '../../src/core/planning/remove-proxies/settings';
import type { SortDetail } from '../../src/core/planning/sort/sort';
import type { PresetId } from '../../src/core/rendition/presets';
import type { RenditionKind } from '../../src/core/rendition/read-order';
import { rate } from '../../src/core/time/rate';
import { clipsOfItems } from '../../src/server/projects/make-clip';
import { ffmpeg, makeHouse, makeIntra, type SmallHouse } from '../helpers/small-house';
import { clipsOfAll, judge, proxyPlan } from '../helpers/proxy-house';
import { sortSettings } from '../helpers/sort-house';
import { endOf, go, makeFrames, states, undo, untilMoved, wavBytes } from '../helpers/trust-house';

let house: SmallHouse;
beforeEach(() => (house = makeHouse()));
afterEach(() => house.remove());

const at = (name: string) => join(house.source.root, name);
const plan = (own: Partial<ProxySettings> = {}) => proxyPlan(house, own);
const rowsOf = async (own: Partial<ProxySettings> = {}) => ((await plan(own)).detail as ProxyDetail).rows;

describe('a light copy', () => {
  it.each([
    ['25', '25/1', '10:00:00:00'],
    ['30000/1001', '30000/1001', '01:00:00;02'],
    ['24000/1001', '24000/1001', '23:59:59:20'],
  ])(
    'at %s fps has the frames, rate, timecode, reel, channels and name of its source, stands in for it, and goes again',
    async (rate, frameRate, start) => {
      await makeIntra(at('A001_C001.mov'), 50, start, rate);
      await clipsOfAll(house);
      const { id, run, rows } = await go(house, await plan());
      expect([run.state, ...rows.flatMap(({ message }) => message ?? [])]).toEqual(['done']);
      const file = join(house.vault.root, 'Proxies/A001_C001.mov');
      const { video, audio, timecode, reel } = judge(file);
      expect(video).toMatchObject({ codec_name: 'prores', width: 128, height: 72, avg_frame_rate: frameRate, nb_read_frames: '50', pix_fmt: 'yuv422p10le' }); // prettier-ignore
      expect(timecode).toBe(start);
      expect(reel).toBe('A001');
      expect(audio.map(({ channels }) => channels)).toEqual(judge(at('A001_C001.mov')).audio.map(({ channels }) => channels));
      const [clip] = house.house.catalogue.clips.ofProject(house.projectId);
      expect(clip!.renditions.map(({ kind, made }) => [kind, made?.presetId])).toEqual([['source', undefined], ['proxy', 'courier']]); // prettier-ignore
      // Nothing more to make; the source gone, the copy stands in.
      expect((await plan()).blocked).toBe('Every clip that can have one has one.');
      // Without its shelf the copy is read; without both nothing is.
      const leaving = async (...leave: string[]) => ((await plan({ leave })).detail as ProxyDetail).states.without;
      expect(await leaving(house.source.id)).toMatchObject({ present: 0, 'by-proxy': 1, unplugged: 0 });
      expect(await leaving(house.source.id, house.vault.id)).toMatchObject({ present: 0, 'by-proxy': 0, unplugged: 1 });
      expect(await leaving(house.vault.id)).toMatchObject({ present: 1, 'by-proxy': 0 });
      // A sort takes the source to its place and leaves the copy in its own.
      const sorted = await house.plan({ kind: 'sort', settings: sortSettings(house.vault.id, { action: 'copy' }) });
      expect((sorted.detail as SortDetail).rows.map(({ oldName, from, stays }) => [from.shelfId === house.vault.id, oldName, stays])).toEqual(
        expect.arrayContaining([
          [false, 'A001_C001.mov', null],
          [true, 'A001_C001.mov', 'sorting moves sources and finished pictures only'],
        ]),
      );
      rmSync(at('A001_C001.mov'));
      await house.stocktake(house.source.id);
      expect(Object.values(await states(house))).toEqual(['by-proxy']);
      const back = await undo(house, id);
      expect(back.run.state).toBe('done');
      expect(existsSync(file)).toBe(false);
      expect(house.house.catalogue.clips.ofProject(house.projectId)[0]!.renditions.map(({ kind }) => kind)).toEqual(['source']);
    },
  );

  it.each([
    ['pocket', 'h264', 'yuv420p'],
    ['thread', 'hevc', 'yuv420p10le'],
  ] as const)(
    '%s of 8-bit sources: odd, upright, interlaced, of variable rate, without sound, with 14 channels, of one frame',
    { timeout: 120_000 },
    async (presetId: PresetId, codec, format) => {
      const picture = (size: string, seconds = 1, rate = 25) => ['-f', 'lavfi', '-i', `testsrc2=s=${size}:r=${rate}:d=${seconds}`];
      const h264 = ['-c:v', 'libx264', '-preset', 'ultrafast'];
      await ffmpeg(...picture('255x143'), '-c:v', 'mjpeg', '-pix_fmt', 'yuvj444p', '-an', at('odd.mov'));
      await ffmpeg(...picture('320x180'), ...h264, '-pix_fmt', 'yuv420p', at('lying.mp4'));
      await ffmpeg('-display_rotation', '90', '-i', at('lying.mp4'), '-c', 'copy', at('upright.mp4')).catch(() => ffmpeg('-i', at('lying.mp4'), '-c', 'copy', '-metadata:s:v:0', 'rotate=90', at('upright.mp4'))); // prettier-ignore
      rmSync(at('lying.mp4'));
      await ffmpeg(
        ...picture('320x240', 1, 50),
        '-vf',
        'interlace=scan=tff',
        '-c:v',
        'mpeg2video',
        '-flags',
        '+ildct+ilme',
        '-b:v',
        '4M',
        at('fields.mov'),
      );
      await ffmpeg(...picture('320x180', 2), '-vf', 'select=not(mod(n\\,7))+lt(n\\,20)', '-fps_mode', 'vfr', ...h264, '-pix_fmt', 'yuv420p', at('variable.mp4')); // prettier-ignore
      await ffmpeg(...picture('320x180', 0.04), ...h264, '-pix_fmt', 'yuv420p', at('one.mp4'));
      await ffmpeg(...picture('320x180'), '-f', 'lavfi', '-i', 'anoisesrc=r=48000:d=1', '-filter_complex', `[1:a]asplit=14${Array.from({ length: 14 }, (_, i) => `[a${i}]`).join('')}`, '-map', '0:v', ...Array.from({ length: 14 }, (_, i) => ['-map', `[a${i}]`]).flat(), ...h264, '-pix_fmt', 'yuv420p', '-c:a', 'pcm_s16le', at('many.mov')); // prettier-ignore
      await clipsOfAll(house);
      const { run, rows } = await go(house, await plan({ presetId }));
      expect([run.state, ...rows.flatMap(({ message }) => message ?? [])]).toEqual(['done']);
      const made = (name: string) => judge(join(house.vault.root, 'Proxies', name));
      const frames = (name: string) => judge(at(name)).video.nb_read_frames;
      for (const [name, of, width, height] of [
        ['odd.mov', 'odd.mov', 128, 72],
        ['upright.mov', 'upright.mp4', 90, 160],
        ['fields.mov', 'fields.mov', 160, 120],
        ['variable.mov', 'variable.mp4', 160, 90],
        ['one.mov', 'one.mp4', 160, 90],
        ['many.mov', 'many.mov', 160, 90],
      ] as const)
        expect([name, made(name).video], name).toMatchObject([
          name,
          { codec_name: codec, pix_fmt: format, width, height, nb_read_frames: frames(of) },
        ]);
      expect(made('many.mov').audio.reduce((sum, { channels }) => sum + channels!, 0)).toBe(14);
      expect(made('odd.mov').audio).toEqual([]);
      expect(readdirSync(join(house.vault.root, 'Proxies'))).toHaveLength(6);
    },
  );

  it('keeps what 8 bits or no alpha would lose: the sheet says which preset it gets before it runs', { timeout: 60_000 }, async () => {
    await makeIntra(at('ten.mov'), 10, '01:00:00:00');
    await ffmpeg(
      '-f',
      'lavfi',
      '-i',
      'testsrc2=s=64x64:r=25:d=0.4',
      '-vf',
      'format=yuva444p10le',
      '-c:v',
      'prores_ks',
      '-profile:v',
      '4',
      at('veil.mov'),
    );
    await makeFrames(house.source.root, 'pour.', 1001, 12);
    writeFileSync(at('bell.wav'), wavBytes(48_000));
    await ffmpeg('-f', 'lavfi', '-i', 'testsrc2=s=64x64', '-frames:v', '1', at('still.png'));
    await clipsOfAll(house);
    const sheet = await plan({ presetId: 'pocket' });
    const rows = new Map((sheet.detail as ProxyDetail).rows.map((row) => [row.name, row]));
    expect(rows.get('ten')).toMatchObject({ fate: 'made', preset: 'Thread' });
    expect(rows.get('veil')).toMatchObject({ fate: 'made', preset: 'Veil' });
    expect(rows.get('bell')).toMatchObject({ fate: 'its own proxy' });
    expect(rows.get('still')).toMatchObject({ fate: 'its own proxy' });
    expect(sheet.findings.map(({ message }) => message)).toEqual(
      expect.arrayContaining(['1 clip gets Veil instead of Pocket: alpha is lost in Pocket.']),
    );
    const { run, rows: steps } = await go(house, sheet);
    expect([run.state, ...steps.flatMap(({ message }) => message ?? [])]).toEqual(['done']);
    expect(judge(join(house.vault.root, 'Proxies/veil.mov')).video.pix_fmt).toMatch(/^yuva444p1/);
    const sequence = readdirSync(join(house.vault.root, 'Proxies')).find((name) => name.startsWith('pour') || name.startsWith('FOUNDRY'))!;
    expect(judge(join(house.vault.root, 'Proxies', sequence)).video.nb_read_frames).toBe('12');
    // One frame in the middle that is another by now.
    const again = await plan({ scope: { of: 'clips', clipIds: [rows.get('pour.[1001-1012]')!.clipId] }, onlyLacking: false });
    const frame = at('pour.1006.dpx');
    const { atime, mtime } = statSync(frame);
    const bytes = readFileSync(frame);
    writeFileSync(frame, bytes.fill(7, bytes.length - 50));
    utimesSync(frame, atime, new Date(mtime.getTime() + 5_000));
    const late = await go(house, again);
    expect(late.rows.map(({ state, message }) => `${state} ${message}`)).toEqual([expect.stringContaining('was changed after the plan was made')]);
  });

  it('of a changed source is made again, of one changed meanwhile or cut short not at all, and the rest goes on', { timeout: 60_000 }, async () => {
    await makeIntra(at('a.mov'), 20, '01:00:00:00');
    await makeIntra(at('b.mov'), 20, '02:00:00:00');
    await clipsOfAll(house);
    const sheet = await plan();
    appendFileSync(at('b.mov'), Buffer.alloc(100));
    const first = await go(house, sheet);
    expect(first.run.state).toBe('failed');
    expect(first.rows.map(({ state }) => state)).toEqual(['done', 'failed']);
    expect(first.rows[1]!.message).toContain('was changed after the plan was made');
    expect(readdirSync(join(house.vault.root, 'Proxies'))).toEqual(['a.mov']);
    await makeIntra(at('a.mov'), 20, '01:00:00:00', '25', ['-c:v', 'prores', '-pix_fmt', 'yuv422p10le', '-vf', 'negate']);
    await house.stocktake(house.source.id);
    // The clip links the file as it was: that is told, and nothing is made of another one.
    expect((await rowsOf()).find(({ name }) => name === 'a')).toMatchObject({ fate: 'cannot', why: 'its source is changed' });
  });

  it('with letters in it is marked, and never counts as a clean one', { timeout: 60_000 }, async () => {
    await makeIntra(at("o'bell: 100%.mov"), 20, '10:00:00:00');
    await clipsOfAll(house);
    const burnIn = { lines: ['clip', 'timecode', 'reel', 'frame'] as const, text: "it's: %{pts} \\ [x]", where: 'bottom' as const, opacity: 0.9 };
    const { run, rows } = await go(house, await plan({ burnIn, presetId: 'thread', size: { by: 'full' } }));
    expect([run.state, ...rows.flatMap(({ message }) => message ?? [])]).toEqual(['done']);
    expect(house.house.catalogue.clips.ofProject(house.projectId)[0]!.renditions[1]).toMatchObject({ kind: 'proxy', made: { burnIn: true } });
    expect((await rowsOf())[0]).toMatchObject({ fate: 'made' });
    expect((await rowsOf({ burnIn }))[0]).toMatchObject({ fate: 'has one' });
  });

  it('is linked once, however often the work was broken off', { timeout: 60_000 }, async () => {
    await makeIntra(at('a.mov'), 250, '01:00:00:00');
    await clipsOfAll(house);
    const id = house.house.runner.submit(await plan({ presetId: 'thread', size: { by: 'full' } }));
    await untilMoved(house, id, 1);
    house.house.runner.cancel(id);
    await endOf(house, id);
    expect(existsSync(join(house.vault.root, 'Proxies/a.mov'))).toBe(false);
    house.house.runner.resume(id);
    expect((await endOf(house, id)).run.state).toBe('done');
    expect(house.house.catalogue.clips.ofProject(house.projectId)[0]!.renditions.map(({ kind }) => kind)).toEqual(['source', 'proxy']);
    expect(readdirSync(join(house.vault.root, 'Proxies'))).toEqual(['a.mov']);
  });
});

describe('a mezzanine', () => {
  it('is made of what is hard to play, and not of what is easy', { timeout: 60_000 }, async () => {
    await makeIntra(at('easy.mov'), 10, '01:00:00:00');
    mkdirSync(at('cards'));
    await ffmpeg(
      '-f',
      'lavfi',
      '-i',
      'testsrc2=s=320x180:r=25:d=1',
      '-c:v',
      'libx264',
      '-pix_fmt',
      'yuv420p',
      '-timecode',
      '03:00:00:00',
      at('cards/hard.mov'),
    );
    await clipsOfAll(house);
    expect((await rowsOf({ presetId: 'bench', size: { by: 'full' } })).map(({ name, fate }) => `${name}: ${fate}`).sort()).toEqual(['easy: not needed', 'hard: made']); // prettier-ignore
    const { run } = await go(house, await plan({ presetId: 'bench', size: { by: 'full' }, layout: 'sources' }));
    expect(run.state).toBe('done');
    expect(judge(join(house.vault.root, 'Proxies/FOUNDRY-A/cards/hard.mov'))).toMatchObject({ timecode: '03:00:00:00', video: { width: 320, nb_read_frames: '25' } }); // prettier-ignore
  });
});

describe('removed', () => {
  const removal = (own: Partial<RemoveProxiesSettings> = {}) =>
    house.plan({ kind: 'remove-proxies', settings: { scope: { of: 'project' }, rendition: 'proxy', which: 'all', confirmed: false, ...own } });
  const proxiesIn = () => readdirSync(join(house.vault.root, 'Proxies')).sort();
  const kindsOf = () => house.house.catalogue.clips.ofProject(house.projectId).map(({ name, renditions }) => `${name}: ${renditions.map(({ kind }) => kind).join(' ')}`); // prettier-ignore

  it('are the files that nobody else reads and nobody changed; sources never; what goes offline waits for a word', { timeout: 60_000 }, async () => {
    for (const [index, name] of ['a', 'b', 'c', 'd'].entries()) await makeIntra(at(`${name}.mov`), 10, `01:00:0${index}:00`);
    await clipsOfAll(house);
    expect((await go(house, await plan())).run.state).toBe('done');
    const { catalogue } = house.house;
    // Another project has the light copy of b as its source.
    const other = randomUUID();
    catalogue.projects.add({ id: other, name: 'Trailer', rate: rate(25), dropFrame: false, createdAt: new Date().toISOString() });
    const taken = catalogue.items.at({ shelfId: house.vault.id, path: 'Proxies/b.mov' })!;
    for (const clip of clipsOfItems(other, [{ item: taken, bin: '' }], catalogue, randomUUID)) catalogue.clips.put(other, clip);
    rmSync(at('d.mov'));
    await house.stocktake(house.source.id);

    const spare = await removal({ which: 'spare' });
    expect((spare.detail as RemovalDetail).rows.map(({ name, fate, why, then }) => [name, fate, why, then])).toEqual([
      ['a', 'removed', '', 'present'],
      ['b', 'unlinked', 'its file stays: the project "Trailer" reads it', 'present'],
      ['c', 'removed', '', 'present'],
    ]);
    const all = await removal();
    expect([all.blocked, all.steps.length, (all.detail as RemovalDetail).goOffline]).toEqual([
      'Read which clips lose their last file, then tick the box.',
      0,
      1,
    ]);
    const sure = await removal({ confirmed: true });
    // Changed after the sheet was read: it is another file by now, and stays with its link.
    const copy = join(house.vault.root, 'Proxies/c.mov');
    const { atime, mtime } = statSync(copy);
    writeFileSync(copy, readFileSync(copy).fill(3, 400, 420));
    utimesSync(copy, atime, mtime);
    const { run, rows } = await go(house, sure);
    expect(run.state).toBe('done');
    expect(rows.map(({ step, outcome }) => `${step.from?.path ?? 'links'}: ${outcome?.checked}`)).toEqual([
      'Proxies/a.mov: compared before it was removed',
      'Proxies/c.mov: left where it is: it was changed since the plan was made',
      'Proxies/d.mov: compared before it was removed',
      'links: 3 renditions',
    ]);
    expect(proxiesIn()).toEqual(['b.mov', 'c.mov']);
    expect(kindsOf()).toEqual(['a: source', 'b: source', 'c: source proxy', 'd: source']);
    expect(['a.mov', 'b.mov', 'c.mov'].every((name) => existsSync(at(name)))).toBe(true);
    expect(Object.values(await states(house, other))).toEqual(['present']);
    expect((await removal({ which: 'spare' })).detail).toMatchObject({ rows: [{ name: 'c', fate: 'removed' }] });
  });

  it('of those that are shared by clips, one stays as long as one of them reads it', { timeout: 60_000 }, async () => {
    await makeIntra(at('a.mov'), 10, '01:00:00:00');
    await clipsOfAll(house);
    const { catalogue } = house.house;
    const [first] = catalogue.clips.ofProject(house.projectId);
    const renditions = first!.renditions.map((rendition) => ({ ...rendition, id: randomUUID() }));
    catalogue.clips.put(house.projectId, { ...first!, id: randomUUID(), binPath: 'Again', mediaKey: 'another', renditions });
    expect((await go(house, await plan())).run.state).toBe('done');
    expect(kindsOf()).toEqual(['a: source proxy', 'a: source proxy']);
    const { run } = await go(house, await removal({ scope: { of: 'bin', path: 'Again' } }));
    expect([run.state, proxiesIn()]).toEqual(['done', ['a.mov']]);
    const last = await go(house, await removal());
    expect([last.run.state, proxiesIn(), kindsOf()]).toEqual(['done', [], ['a: source', 'a: source']]);
  });
});

describe('the read order', () => {
  it('decides what stands for a clip in every list, and what is taken goes by the source all the same', { timeout: 60_000 }, async () => {
    await makeIntra(at('a.mov'), 10, '01:00:00:00');
    await clipsOfAll(house);
    expect((await go(house, await plan())).run.state).toBe('done');
    const { catalogue } = house.house;
    const read = (kinds: readonly RenditionKind[], stop: number) => catalogue.projects.readIn(house.projectId, { kinds, stop });
    const now = async () => Object.values(await states(house))[0];
    expect(await now()).toBe('present');
    read(['proxy', 'source', 'mezzanine', 'finished'], 4);
    expect(await now()).toBe('by-proxy');
    read(['mezzanine', 'finished', 'source', 'proxy'], 2);
    expect(await now()).toBe('not-read');
    // Tried out before it is so.
    const tried = (await plan({ order: { kinds: ['proxy', 'source', 'mezzanine', 'finished'], stop: 1 } })).detail as ProxyDetail;
    expect([tried.states.now['not-read'], tried.states.without['by-proxy']]).toEqual([1, 1]);
    const copied = await house.plan({ kind: 'sort', settings: sortSettings(house.vault.id, { action: 'copy' }) });
    expect((copied.detail as SortDetail).rows.map(({ oldName }) => oldName)).toContain('a.mov');
    read(['source', 'proxy', 'mezzanine', 'finished'], 1);
    rmSync(at('a.mov'));
    await house.stocktake(house.source.id);
    expect(await now()).toBe('not-read');
    // What is lost is still looked for, whatever stands in for it.
    read(['source', 'proxy', 'mezzanine', 'finished'], 4);
    expect(await now()).toBe('by-proxy');
    const relink = await house.plan({ kind: 'relink', settings: { scope: null, choices: {} } });
    expect((relink.detail as RelinkDetail).groups.flatMap(({ rows }) => rows.map(({ state }) => state))).toEqual(['missing']);
  });
});
