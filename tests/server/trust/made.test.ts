/** What runs make holds all that the plan said, is found again by a stocktake, and no run is stuck on one file. */
import { execFileSync } from 'node:child_process';
import { copyFileSync, mkdirSync, openSync, readFileSync, readSync, renameSync, statSync, truncateSync, unlinkSync, writeFileSync, writeSync, closeSync } from 'node:fs'; // prettier-ignore
import { join } from 'node:path';
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { clipDocument, externalReference, timeRange } from '../../../src/core/interchange/otio/otio-writer';
import { readOtio } from '../../../src/core/interchange/otio/otio-reader';
import { activeReference, clipEvents } from '../../../src/core/project/timeline';
import type { Plan } from '../../../src/core/planning/plan/plan';
import type { TakenDetail } from '../../../src/core/planning/taking/taken';
import { cutWav } from '../../../src/core/media/riff';
import { runTool } from '../../../src/server/media/ffmpeg';
import { readWavHeader } from '../../../src/server/media/wav-file';
import { Study } from '../../../src/server/questions/study';
import { eject } from '../../helpers/colleague';
import { ffmpeg, makeHouse, makeIntra, type SmallHouse } from '../../helpers/small-house';
import { cutOf, cutOfSequence, cutTimeline, filesBelow, go, makeFrames, PAL, planOf, pullSettings, states, wavBytes } from '../../helpers/trust-house'; // prettier-ignore

let small: SmallHouse;
beforeEach(() => {
  small = makeHouse();
});
afterEach(() => small.remove());

const at = (name: string) => join(small.source.root, name);
const out = (name: string) => join(small.vault.root, name);
const timed = (path: string, from: number, frames: number, start = 900_000) =>
  clipDocument(path, timeRange(start + from, frames, PAL), externalReference(`/Volumes/FOUNDRY-A/${path}`, path, timeRange(start, 100_000, PAL)));

async function pull(timelineId: string, own: object = {}) {
  const plan = (await small.plan({ kind: 'pull', settings: pullSettings(small, timelineId, { media: 'parts', ...own }) })) as Plan<TakenDetail>;
  return { plan, ...(await go(small, plan)) };
}

/** A stocktake of the whole shelf, as a user makes it: every clip of the pulled timelines must be there afterwards. */
/** What was pulled, as a stocktake sees it; and how the events of all timelines stand when nothing else is there. */
async function pulledAlone(): Promise<{ files: string[]; states: string[] }> {
  await small.stocktake(small.vault.id);
  const items = small.house.catalogue.items.onShelf(small.vault.id).filter(({ place }) => place.path.startsWith('pulled/media'));
  const back = eject(small.source.root);
  const { catalogue, mounts } = small.house;
  const study = new Study(catalogue, mounts);
  const views = await Promise.all(
    catalogue.timelines.entries(small.projectId).map(({ id }) => study.answer({ ask: 'timeline', projectId: small.projectId, timelineId: id })),
  );
  back();
  const states = views.flatMap((view) => view.tracks.flatMap(({ events }) => events.map(({ state }) => state)));
  return { files: items.map(({ place }) => place.path), states: [...new Set(states)] };
}

describe('tracks beside the first picture and the sound', () => {
  it.each([
    ['two.mov', ['-map', '0:v', '-map', '0:v', '-map', '0:a'], 'a second picture track inside', { pictures: 1 }],
    ['subs.mov', ['-i', 'WORDS', '-map', '0:v', '-map', '0:a', '-map', '1:s', '-c:s', 'mov_text'], 'subtitles inside', { subtitles: 1 }],
  ])('%s is copied whole and says why before the run', async (name, args, why, extra) => {
    await makeIntra(at('base.mov'), 50, '10:00:00:00');
    writeFileSync(join(small.folder, 'words.srt'), '1\n00:00:00,000 --> 00:00:01,000\nPour\n');
    const inputs = args.map((entry) => (entry === 'WORDS' ? `file:${join(small.folder, 'words.srt')}` : entry));
    await ffmpeg('-i', `file:${at('base.mov')}`, ...inputs, '-c:v', 'copy', '-c:a', 'copy', '-f', 'mov', '-y', `file:${at(name)}`);
    unlinkSync(at('base.mov'));
    await small.stocktake(small.source.id);
    expect(small.house.catalogue.items.at({ shelfId: small.source.id, path: name })!.facts.extraTracks).toMatchObject(extra);
    const { plan, run } = await pull(small.bring(cutTimeline('Cut', [timed(name, 10, 10)])));
    expect(plan.detail.rows[0]).toMatchObject({ method: 'whole', why });
    expect(run.state).toBe('done');
    expect(readFileSync(out(`pulled/media/picture/${name}`)).equals(readFileSync(at(name)))).toBe(true);
  });

  it('a cover picture, even the first of its tracks, keeps a file whole', async () => {
    const picture = join(small.folder, 'cover.png');
    await makeIntra(at('base.mov'), 50, '10:00:00:00', '25', ['-c:v', 'mjpeg', '-pix_fmt', 'yuvj420p']);
    await ffmpeg('-f', 'lavfi', '-i', 'testsrc2=s=64x36', '-frames:v', '1', '-update', '1', `file:${picture}`);
    const inputs = ['-i', `file:${picture}`, '-i', `file:${at('base.mov')}`, '-map', '0:v', '-map', '1:v', '-disposition:v:0', 'attached_pic'];
    await ffmpeg(...inputs, '-c', 'copy', '-f', 'mp4', `file:${at('cover.mov')}`);
    unlinkSync(at('base.mov'));
    await small.stocktake(small.source.id);
    const { plan, run } = await pull(small.bring(cutTimeline('Cut', [cutOf('cover.mov', 10, 10)])));
    expect([plan.detail.rows[0]!.method, plan.detail.rows[0]!.why, run.state]).toEqual(['whole', 'a cover picture inside', 'done']);
  });

  it('a plain file has none, its timecode track is no data track', async () => {
    await makeIntra(at('plain.mov'), 20, '10:00:00:00');
    await small.stocktake(small.source.id);
    const { facts } = small.house.catalogue.items.at({ shelfId: small.source.id, path: 'plain.mov' })!;
    expect([facts.extraTracks, facts.steadyRate]).toEqual([{ pictures: 0, covers: 0, subtitles: 0, data: 0 }, true]);
  });
});

describe('pictures that were pulled are present after a stocktake', () => {
  it('numbered stills of several folders', async () => {
    const names = Array.from({ length: 6 }, (_, index) => `day${index}/bell_00${index}.png`);
    await ffmpeg('-f', 'lavfi', '-i', 'testsrc2=s=320x180:r=5', '-frames:v', '6', '-start_number', '0', `file:${join(small.folder, 'p%d.png')}`);
    for (const [index, name] of names.entries()) {
      mkdirSync(at(`day${index}`));
      renameSync(join(small.folder, `p${index}.png`), at(name));
    }
    await small.stocktake(small.source.id);
    const id = small.bring(cutTimeline('Stills', names.map((name) => cutOf(name, 0, 25)))); // prettier-ignore
    expect((await pull(id)).run.state).toBe('done');
    const { files, states: seen } = await pulledAlone();
    expect([files.length, seen]).toEqual([6, ['present']]);
  });

  it('a part of a sequence with fewer frames than make one, at its begin, middle and end', async () => {
    mkdirSync(at('pour'));
    await makeFrames(at('pour'), 'pour.', 1001, 60);
    await small.stocktake(small.source.id);
    const of = (from: number, frames: number) => cutOfSequence('pour', 'pour.', 1001, 60, from, frames);
    const { run } = await pull(small.bring(cutTimeline('Pour', [of(0, 1), of(30, 2), of(58, 2)])));
    expect(run.state).toBe('done');
    expect(await pulledAlone()).toEqual({
      files: ['pour_1001/pour.[1001-1005].dpx', 'pour_1030/pour.[1030-1034].dpx', 'pour_1056/pour.[1056-1060].dpx'].map(
        (path) => `pulled/media/picture/${path}`,
      ),
      states: ['present'],
    });
  });

  it('a part that begins and ends in a gap', async () => {
    mkdirSync(at('pour'));
    await makeFrames(at('pour'), 'pour.', 1001, 60);
    for (const number of [1010, 1011, 1012, 1030, 1031]) unlinkSync(at(`pour/pour.${number}.dpx`));
    await small.stocktake(small.source.id);
    const { run } = await pull(small.bring(cutTimeline('Pour', [cutOfSequence('pour', 'pour.', 1001, 60, 10, 20)])));
    expect(run.state).toBe('done');
    // From the last frame before the gap to the first after: 1009 to 1032.
    expect(await pulledAlone()).toEqual({ files: ['pulled/media/picture/pour/pour.[1009-1032].dpx'], states: ['present'] });
    expect(filesBelow(out('pulled/media/picture/pour'))).toHaveLength(24 - 5);
  });

  it('pictures named by the clock are stills, and gaps of any length are counted, not capped', async () => {
    mkdirSync(at('clock'));
    mkdirSync(at('few'));
    await makeFrames(small.folder, 'x.', 1, 12);
    const name = (index: number) => join(small.folder, `x.${String(index + 1).padStart(4, '0')}.dpx`);
    for (let index = 0; index < 6; index++) copyFileSync(name(index), at(`clock/p.${1_700_000_000 + index * 3600}.dpx`));
    for (let index = 0; index < 12; index++) renameSync(name(index), at(`few/f.${String(10_000 + index * 900).padStart(6, '0')}.dpx`));
    await small.stocktake(small.source.id);
    const items = small.house.catalogue.items.onShelf(small.source.id);
    expect(items.filter((item) => item.facts.kind === 'still')).toHaveLength(6);
    const sequence = items.find((item) => item.facts.kind === 'sequence')!;
    expect(sequence.facts).toMatchObject({ durationFrames: 9901, sequence: { firstNumber: 10_000, lastNumber: 19_900 } });
    const event = clipDocument('few', timeRange(0, 9901, PAL), externalReference(`/Volumes/FOUNDRY-A/${sequence.place.path}`, 'few', timeRange(0, 9901, PAL))); // prettier-ignore
    const { run, rows } = await pull(small.bring(cutTimeline('Few', [event])));
    expect([run.state, rows[0]!.outcome!.files!.length]).toEqual(['done', 12]);
  });

  it('frames whose names a plain checker could not read get portable ones, and the crate opens with them', async () => {
    mkdirSync(at('pour'));
    await makeFrames(at('pour'), 'po:ur 50%%_', 1001, 8);
    await small.stocktake(small.source.id);
    const id = small.bring(cutTimeline('Pour', [cutOfSequence('pour', 'po:ur 50%_', 1001, 8, 0, 8)]));
    const { folderName: _folder, ...shared } = pullSettings(small, id);
    const made = await go(small, await small.plan({ kind: 'crate', settings: { ...shared, crateName: 'Names', note: '' } }));
    expect(made.run.state).toBe('done');
    execFileSync('sha256sum', ['-c', '--quiet', '--strict', 'manifest-sha256.txt'], { cwd: out('Names'), stdio: 'pipe' });
    expect(filesBelow(out('Names/data/media/picture')).at(0)).toMatch(/po_ur 50__1001\.dpx$/);
    const crate = { shelfId: small.vault.id, path: 'Names' };
    await go(small, await small.plan({ kind: 'restore', settings: { crate, projectName: 'Opened' } }));
    const project = small.house.catalogue.projects.list().find((entry) => entry.name === 'Opened')!;
    expect(Object.values(await states(small, project.id))).toEqual(['present']);
  });

  it('a second pull into the same folder gets names of its own', async () => {
    writeFileSync(at('a.wav'), wavBytes(4800));
    await small.stocktake(small.source.id);
    const id = small.bring(cutTimeline('Cut', [cutOf('a.wav', 0, 1)], 'Audio'));
    const runs = [await pull(id, { media: 'whole' }), await pull(id, { media: 'whole' })];
    expect(runs.map(({ run }) => run.state)).toEqual(['done', 'done']);
    expect(filesBelow(out('pulled/timelines'))).toEqual(['Cut · pulled.otio', 'Cut · pulled_2.otio']);
  });

  it('nothing is pulled into a folder that stocktakes pass over', async () => {
    writeFileSync(at('a.wav'), wavBytes(4800));
    await small.stocktake(small.source.id);
    const id = small.bring(cutTimeline('Cut', [cutOf('a.wav', 0, 1)], 'Audio'));
    for (const settings of [{ folderName: '.pulled' }, { destination: { shelfId: small.vault.id, path: 'x/.hidden' } }]) {
      const plan = await small.plan({ kind: 'pull', settings: pullSettings(small, id, settings) });
      expect(plan).toMatchObject({ steps: [], blocked: expect.stringContaining('begins with a dot') as string });
    }
  });
});

describe('cuts of WAV files', () => {
  const u32 = (...values: number[]) => {
    const bytes = Buffer.alloc(values.length * 4);
    values.forEach((value, index) => bytes.writeUInt32LE(value, index * 4));
    return bytes;
  };
  const cue = (id: number, sample: number) => Buffer.concat([u32(id, sample), Buffer.from('data'), u32(0, 0, sample)]);
  const label = (id: number, text: string) => Buffer.concat([Buffer.from('labl'), u32(4 + text.length + 1), u32(id), Buffer.from(`${text}\0`), Buffer.alloc((text.length + 1) % 2)]); // prettier-ignore

  it('say the right count, cue points, labels and start everywhere', async () => {
    const bext = Buffer.alloc(602);
    bext.writeBigUInt64LE(1_728_000_000n, 338);
    const xml = '<BWFXML><SPEED><TIMESTAMP_SAMPLES_SINCE_MIDNIGHT_HI>0</TIMESTAMP_SAMPLES_SINCE_MIDNIGHT_HI><TIMESTAMP_SAMPLES_SINCE_MIDNIGHT_LO>1728000000</TIMESTAMP_SAMPLES_SINCE_MIDNIGHT_LO></SPEED><BEXT><BWF_TIME_REFERENCE_LOW>1728000000</BWF_TIME_REFERENCE_LOW><BWF_TIME_REFERENCE_HIGH>0</BWF_TIME_REFERENCE_HIGH></BEXT><NOTE>Gl\u00f6cke</NOTE></BWFXML>'; // prettier-ignore
    const extra: [string, Buffer][] = [
      ['bext', bext],
      ['fact', u32(48_000)],
      ['iXML', Buffer.from(xml)],
      ['cue ', Buffer.concat([u32(3), cue(1, 100), cue(2, 20_000), cue(3, 40_000)])],
      ['LIST', Buffer.concat([Buffer.from('adtl'), label(1, 'early'), label(2, 'strike'), label(3, 'late')])],
      ['levl', Buffer.alloc(64, 1)],
    ];
    writeFileSync(at('bell.wav'), wavBytes(48_000, extra));
    await small.stocktake(small.source.id);
    // Picture frames 5 to 15 at 25 a second: samples 9,600 to 28,800.
    const { plan, run, rows } = await pull(small.bring(cutTimeline('Bell', [timed('bell.wav', 5, 10)], 'Audio')));
    expect([plan.detail.rows[0]!.kept, run.state, rows[0]!.outcome!.whole]).toEqual([[{ start: 9600, end: 28_800 }], 'done', undefined]);
    const path = out('pulled/media/sound/bell.wav');
    const header = (await readWavHeader(path))!;
    const bytes = readFileSync(path);
    const chunk = (id: string) => {
      const found = header.chunks.find((entry) => entry.id === id)!;
      return bytes.subarray(found.offset, found.offset + found.size);
    };
    expect(chunk('fact').readUInt32LE(0)).toBe(19_200);
    expect([chunk('cue ').readUInt32LE(0), chunk('cue ').readUInt32LE(4), chunk('cue ').readUInt32LE(24)]).toEqual([1, 2, 20_000 - 9600]);
    expect(chunk('LIST').toString('latin1')).toContain('strike');
    expect(chunk('LIST').toString('latin1')).not.toMatch(/early|late/);
    expect(chunk('bext').readBigUInt64LE(338)).toBe(1_728_009_600n);
    expect(chunk('iXML').toString('utf8')).toBe(xml.replaceAll('1728000000', '1728009600'));
    expect(header.chunks.map((entry) => entry.id)).not.toContain('levl');
    // Another reader agrees on length and start.
    const { stdout } = await runTool('ffprobe', ['-show_entries', 'stream=duration_ts:format_tags=time_reference', '-of', 'json', `file:${path}`]);
    expect(JSON.parse(stdout)).toMatchObject({ streams: [{ duration_ts: 19_200 }], format: { tags: { time_reference: '1728009600' } } });
  });

  it('above 4 GB become RF64 as EBU Tech 3306 has it, and ffprobe reads them', async () => {
    const seconds = 24_000;
    const samples = 48_000 * seconds;
    const data = samples * 2;
    const wav = wavBytes(4, [['JUNK', Buffer.alloc(28)]]);
    wav.write('RF64', 0, 'latin1');
    wav.writeUInt32LE(0xffff_ffff, 4);
    const junk = wav.indexOf('JUNK');
    const format = wav.subarray(12, junk);
    const ds64 = Buffer.alloc(36);
    ds64.write('ds64', 'latin1');
    ds64.writeUInt32LE(28, 4);
    const head = Buffer.concat([wav.subarray(0, 12), ds64, format, Buffer.from('data'), Buffer.from([255, 255, 255, 255])]);
    head.writeBigUInt64LE(BigInt(head.length - 8 + data), 20);
    head.writeBigUInt64LE(BigInt(data * 2.5), 28);
    head.writeBigUInt64LE(BigInt(samples * 2.5), 36);
    head.writeBigUInt64LE(BigInt(head.length - 8 + data * 2.5), 20);
    writeFileSync(at('day.wav'), head);
    truncateSync(at('day.wav'), head.length + data * 2.5);
    const mark = openSync(at('day.wav'), 'r+');
    writeSync(mark, 'MARK', head.length + 48_000 * 2 * 100);
    closeSync(mark);
    await small.stocktake(small.source.id);
    const item = small.house.catalogue.items.at({ shelfId: small.source.id, path: 'day.wav' })!;
    expect(item.facts).toMatchObject({ container: 'wav', durationFrames: samples * 2.5 });
    // What a cut of that length is made of, laid out as it says; the silence between stays a hole, so that it takes no minute.
    const segments = cutWav((await readWavHeader(at('day.wav')))!, 48_000 * 100, 48_000 * 45_100)!;
    const path = at('cut.wav');
    const cut = openSync(path, 'w');
    const day = openSync(at('day.wav'), 'r');
    let length = 0;
    for (const segment of segments) {
      const bytes = segment.type === 'bytes' ? segment.bytes : Buffer.alloc(Math.min(segment.length, 4096));
      if (segment.type === 'range') readSync(day, bytes, 0, bytes.length, segment.offset);
      writeSync(cut, bytes, 0, bytes.length, length);
      length += segment.type === 'bytes' ? bytes.length : segment.length;
    }
    closeSync(cut);
    closeSync(day);
    truncateSync(path, length);
    expect(statSync(path).size).toBeGreaterThan(45_000 * 96_000);
    const found = Buffer.alloc(4);
    const file = openSync(path, 'r');
    const header = (await readWavHeader(path))!;
    readSync(file, found, 0, 4, header.chunks.find((chunk) => chunk.id === 'data')!.offset);
    closeSync(file);
    expect([header.form, found.toString()]).toEqual(['RF64', 'MARK']);
    const { stdout } = await runTool('ffprobe', ['-show_entries', 'stream=duration_ts', '-of', 'json', `file:${path}`]);
    expect(JSON.parse(stdout)).toMatchObject({ streams: [{ duration_ts: 45_000 * 48_000 }] });
  });
});

describe('a cut that cannot be made', () => {
  it('is copied whole and says so; its timeline points at the whole file and every event finds its frames', async () => {
    // Sound that ends long before the picture: a part beyond its end has none to cut.
    await makeIntra(at('full.mov'), 100, '10:00:00:00');
    await ffmpeg('-i', `file:${at('full.mov')}`, '-map', '0:v', '-map', '0:a', '-c:v', 'copy', '-c:a', 'pcm_s24le', '-af', 'atrim=end=1', '-f', 'mov', `file:${at('short.mov')}`); // prettier-ignore
    unlinkSync(at('full.mov'));
    await small.stocktake(small.source.id);
    const id = small.bring(cutTimeline('Cut', [timed('short.mov', 60, 20)]));
    const { plan, run, rows } = await pull(id);
    expect(plan.detail.rows[0]!.method).toBe('trim');
    expect(run.state).toBe('done');
    const written = readFileSync(out('pulled/timelines/Cut · pulled.otio'), 'utf8');
    const [event] = [...clipEvents(readOtio(written, PAL).timelines[0]!.timeline.tracks)];
    const start = activeReference(event!)!.availableStart!;
    expect(event!.sourceIn.value).toBe(900_060);
    expect(rows[0]!.outcome).toMatchObject({
      whole: true,
      checked: expect.stringContaining('it could not be cut (there is no sound in that part)') as string,
    });
    expect(start.value).toBe(900_000);
    expect(readFileSync(out('pulled/media/picture/short.mov')).equals(readFileSync(at('short.mov')))).toBe(true);
    expect((await pulledAlone()).states).toEqual(['present']);
  });

  it('one forced to fail by what it is: the step falls back, the timeline follows, the clip is present', async () => {
    await makeIntra(at('a.mov'), 100, '10:00:00:00');
    await small.stocktake(small.source.id);
    const id = small.bring(cutTimeline('Cut', [timed('a.mov', 60, 20)]));
    const plan = (await small.plan({ kind: 'pull', settings: pullSettings(small, id, { media: 'parts' }) })) as Plan<TakenDetail>;
    // As if the file were something that the cutter cannot read after all.
    const steps = plan.steps.map((step) => (step.action === 'trim' ? { ...step, facts: { ...step.facts, container: 'mxf' } } : step));
    const { run, rows } = await go(small, { ...planOf(small, steps), kind: 'pull' });
    expect(run.state).toBe('done');
    expect(rows[0]!.outcome).toMatchObject({ whole: true, checked: expect.stringContaining('could not be cut') as string });
    const written = readFileSync(out('pulled/timelines/Cut · pulled.otio'), 'utf8');
    const reference = activeReference([...clipEvents(readOtio(written, PAL).timelines[0]!.timeline.tracks)][0]!)!;
    expect([reference.availableStart!.value, reference.availableDuration!.value]).toEqual([900_000, 100]);
    expect((await pulledAlone()).states).toEqual(['present']);
  });

  it('variable rate is known before: copied whole', async () => {
    await makeIntra(at('steady.mov'), 40, '10:00:00:00');
    await ffmpeg('-i', `file:${at('steady.mov')}`, '-map', '0:v', '-c:v', 'copy', '-bsf:v', 'setts=pts=PTS+if(gt(N\\,20)\\,5*DURATION\\,0):dts=DTS+if(gt(N\\,20)\\,5*DURATION\\,0)', '-f', 'mov', `file:${at('varies.mov')}`); // prettier-ignore
    await small.stocktake(small.source.id);
    const { plan } = await pull(small.bring(cutTimeline('Cut', [timed('varies.mov', 5, 5)])));
    expect(plan.detail.rows[0]).toMatchObject({ method: 'whole', why: 'variable frame rate' });
  });

  it('an ending of the name that says something else does not matter', async () => {
    await makeIntra(at('x.mov'), 50, '10:00:00:00');
    renameSync(at('x.mov'), at('take 1.dpx.bak'));
    copyFileSync(at('take 1.dpx.bak'), at('take2'));
    await small.stocktake(small.source.id);
    const { run, rows } = await pull(small.bring(cutTimeline('Cut', [timed('take 1.dpx.bak', 10, 10), timed('take2', 10, 10)])));
    expect([run.state, ...rows.slice(0, 2).map((row) => row.outcome?.checked)]).toEqual(['done', ...['', ''].map(() => '10 frames equal to the source, sound equal')]); // prettier-ignore
  });
});

describe('a clip read frame for frame', () => {
  it('is pulled so that the new timeline shows the very frames of the old one', async () => {
    await makeIntra(at('film.mov'), 200, '10:00:00:00', '24');
    await small.stocktake(small.source.id);
    // A list at 25 that names the frames of a film at 24 by their labels.
    const start = 36_000 * 25;
    const event = clipDocument('film.mov', timeRange(start + 60, 20, PAL), externalReference('/Volumes/FOUNDRY-A/film.mov', 'film', null));
    const id = small.bring(cutTimeline('Film', [event]));
    const { catalogue } = small.house;
    const clip = catalogue.clips.ofProject(small.projectId)[0]!;
    catalogue.clips.put(small.projectId, { ...clip, conform: 'by-frame' });
    const { plan, run } = await pull(id, { headFrames: 5, tailFrames: 5 });
    const kept = plan.detail.rows[0]!.kept[0]!;
    expect([plan.detail.rows[0]!.used, run.state]).toEqual([[{ start: 60, end: 80 }], 'done']);
    // One clip, and the frames of the whole while that is there.
    expect(catalogue.clips.ofProject(small.projectId).map(({ id: own, parts }) => [own, parts!.map(({ range }) => range)])).toEqual([
      [clip.id, [kept]],
    ]);
    const newId = catalogue.timelines.entries(small.projectId).at(-1)!.id;
    const again = async (of: string) =>
      ((await small.plan({ kind: 'pull', settings: pullSettings(small, of, { media: 'parts', folderName: 'again' }) })) as Plan<TakenDetail>).detail
        .rows[0]!.used;
    expect([await again(id), await again(newId)]).toEqual([[{ start: 60, end: 80 }], [{ start: 60, end: 80 }]]);
    // Without it both timelines read the part: counted from the first frame of the cut file, the same twenty frames.
    unlinkSync(at('film.mov'));
    await small.stocktake(small.source.id);
    expect(await again(id)).toEqual([{ start: 60 - kept.start, end: 80 - kept.start }]);
    expect(await again(newId)).toEqual([{ start: 60 - kept.start, end: 80 - kept.start }]);
  });
});
