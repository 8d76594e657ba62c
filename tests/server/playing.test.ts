/** Files and previews as a player asks for them: parts, ends, what is no part; previews of the very frames, made once. */
import { execFileSync } from 'node:child_process';
import { mkdirSync, mkdtempSync, readdirSync, readFileSync, readlinkSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import fc from 'fast-check';
import { afterAll, beforeAll, expect, it } from 'vitest';
import type { Item } from '../../src/core/media/item';
import { PictureCache } from '../../src/server/media/picture-cache';
import { LiveServer } from '../helpers/live-server';
import { ffmpeg, makeIntra } from '../helpers/small-house';
import { filesBelow, makeFrames, wavBytes } from '../helpers/trust-house';

const folder = mkdtempSync(join(tmpdir(), 'mill-play-'));
const media = join(folder, 'FOUNDRY-A');
const server = new LiveServer(folder);
const at = (name: string) => join(media, name);
const ids = new Map<string, string>();
const ask = (name: string, headers: Record<string, string> = {}, method = 'GET') => server.raw(`items/${ids.get(name)}/media`, { method, headers });
const bytesOf = async (answer: Response) => Buffer.from(await answer.arrayBuffer());

beforeAll(async () => {
  mkdirSync(media);
  await ffmpeg('-f', 'lavfi', '-i', 'testsrc2=s=320x180:r=25:d=4', '-f', 'lavfi', '-i', 'sine=d=4', '-c:v', 'libx264', '-pix_fmt', 'yuv420p', '-c:a', 'aac', at('plays.mp4')); // prettier-ignore
  await makeIntra(at('heavy.mov'), 75, '10:00:00:00', '30000/1001');
  await makeFrames(media, 'pour.', 1001, 12);
  writeFileSync(at('bell.wav'), wavBytes(48_000));
  writeFileSync(at('broken.mov'), 'this is no movie');
  await server.start();
  const { id } = await server.post<{ id: string }>('shelves', { path: media });
  await server.post(`shelves/${id}/stocktake`);
  await server.get(`shelves/${id}/stocktake?wait=end`);
  const { rows } = await server.get<{ rows: Item[] }>(`shelves/${id}/items?limit=100`);
  for (const item of rows) ids.set(item.place.path, item.id);
}, 60_000);
afterAll(async () => {
  await server.kill('SIGTERM');
  rmSync(folder, { recursive: true, force: true });
});

it('sends any part of a file, as RFC 9110 has it, and the whole where no part is named', { timeout: 60_000 }, async () => {
  const file = readFileSync(at('plays.mp4'));
  const whole = await ask('plays.mp4');
  expect([whole.status, whole.headers.get('content-type'), whole.headers.get('accept-ranges')]).toEqual([200, 'video/mp4', 'bytes']);
  expect((await bytesOf(whole)).equals(file)).toBe(true);
  const etag = whole.headers.get('etag')!;
  const size = file.length;
  await fc.assert(
    fc.asyncProperty(fc.nat(size - 1), fc.nat(size * 2), async (start, length) => {
      const end = Math.min(size - 1, start + length);
      const answer = await ask('plays.mp4', { range: `bytes=${start}-${start + length}` });
      expect([answer.status, answer.headers.get('content-range'), answer.headers.get('content-length')]).toEqual([206, `bytes ${start}-${end}/${size}`, String(end - start + 1)]); // prettier-ignore
      expect((await bytesOf(answer)).equals(file.subarray(start, end + 1))).toBe(true);
    }),
    { numRuns: 25 },
  );
  const part = async (range: string, more: Record<string, string> = {}) => {
    const answer = await ask('plays.mp4', { range, ...more });
    return [answer.status, (await bytesOf(answer)).length, answer.headers.get('content-range')];
  };
  expect(await part('bytes=-100')).toEqual([206, 100, `bytes ${size - 100}-${size - 1}/${size}`]);
  expect(await part('bytes=10-')).toEqual([206, size - 10, `bytes 10-${size - 1}/${size}`]);
  expect((await part(`bytes=${size}-`))[0]).toBe(416);
  // What is no range, ranges of something else, several that lie apart, and parts of what is another file by now: the whole.
  for (const range of ['bytes', 'frames=1-2', 'bytes=0-1,500-600', 'bytes=5-2x']) expect([range, ...(await part(range))]).toEqual([range, 200, size, null]); // prettier-ignore
  expect((await part('bytes=0-9', { 'if-range': '"another"' }))[0]).toBe(200);
  expect(await part('bytes=0-9', { 'if-range': etag })).toEqual([206, 10, `bytes 0-9/${size}`]);
  expect((await ask('plays.mp4', { 'if-none-match': etag })).status).toBe(304);
  // More of the end than there is is all of it (14.1.2); what is beyond the end is told with the length (15.5.17).
  expect(await part('bytes=-99999999')).toEqual([206, size, `bytes 0-${size - 1}/${size}`]);
  expect(await part(`bytes=${size}-`)).toEqual([416, expect.any(Number), `bytes */${size}`]);
  // Conditions (13.1): any, a list, a weak tag; and one that must hold.
  for (const known of ['*', `"other", ${etag}`, `W/${etag}`]) expect([known, (await ask('plays.mp4', { 'if-none-match': known })).status]).toEqual([known, 304]); // prettier-ignore
  expect((await ask('plays.mp4', { 'if-none-match': '"other"' })).status).toBe(200);
  for (const [must, status] of [['*', 200], [`"other", ${etag}`, 200], ['"other"', 412], [`W/${etag}`, 412]] as const) expect([must, (await ask('plays.mp4', { 'if-match': must })).status]).toEqual([must, status]); // prettier-ignore
  const head = await ask('plays.mp4', {}, 'HEAD');
  expect([head.status, head.headers.get('content-length'), (await bytesOf(head)).length]).toEqual([200, String(size), 0]);
});

it('makes a preview of the very frames of what a browser cannot play, once for all who ask', { timeout: 60_000 }, async () => {
  const frames = (bytes: Buffer) => {
    const path = join(folder, 'preview.mp4');
    writeFileSync(path, bytes);
    const { frames: own, streams } = JSON.parse(execFileSync('ffprobe', ['-v', 'error', '-select_streams', 'v', '-show_entries', 'frame=pts_time:stream=codec_name,pix_fmt', '-of', 'json', path], { encoding: 'utf8' })) as { frames: { pts_time: string }[]; streams: { codec_name: string; pix_fmt: string }[] }; // prettier-ignore
    return { times: own.map(({ pts_time }) => Number(pts_time)), codec: streams[0]!.codec_name, format: streams[0]!.pix_fmt };
  };
  const all = await Promise.all(Array.from({ length: 6 }, async () => bytesOf(await ask('heavy.mov'))));
  expect(all.every((bytes) => bytes.equals(all[0]!))).toBe(true);
  expect(filesBelow(join(folder, 'data/previews'))).toHaveLength(1);
  const heavy = frames(all[0]!);
  expect([heavy.codec, heavy.format, heavy.times.length]).toEqual(['h264', 'yuv420p', 75]);
  // Each at its time: a player that is sent to the middle of a frame shows that one.
  heavy.times.forEach((time, frame) => expect(Math.abs(time - (frame * 1001) / 30_000)).toBeLessThan(0.002));
  expect(frames(await bytesOf(await ask([...ids.keys()].find((name) => name.startsWith('pour.'))!))).times).toHaveLength(12);
  const bell = await ask('bell.wav');
  expect([bell.status, bell.headers.get('content-type'), (await bytesOf(bell)).length]).toEqual([200, 'audio/wav', readFileSync(at('bell.wav')).length]); // prettier-ignore
  expect((await ask('broken.mov')).status).toBe(404);
  rmSync(at('plays.mp4'));
  expect((await ask('plays.mp4')).status).toBe(404);
  mkdirSync(at('plays.mp4'));
  const folderNow = await ask('plays.mp4');
  expect([folderNow.status, await folderNow.text()]).toEqual([409, expect.stringContaining('A folder stands where the file was.')]);
  rmSync(at('plays.mp4'), { recursive: true });
});

it('previews go where the caches of a project are at home, hidden from stocktakes; what is not theirs is left', { timeout: 60_000 }, async () => {
  await makeIntra(at('late.mov'), 10, '10:00:00:00');
  const [shelf] = await server.get<[{ id: string }]>('shelves');
  const stocktake = async () => {
    await server.post(`shelves/${shelf.id}/stocktake`);
    await server.get(`shelves/${shelf.id}/stocktake?wait=end`);
    return (await server.get<{ rows: Item[] }>(`shelves/${shelf.id}/items?limit=100`)).rows;
  };
  const late = (await stocktake()).find(({ place }) => place.path === 'late.mov')!;
  ids.set('late.mov', late.id);
  const project = await server.post<{ id: string }>('projects', { name: 'Bronze Hour', rate: { num: 25, den: 1 } });
  await server.post(`projects/${project.id}/bins`, { do: 'add-items', itemIds: [late.id], binPath: '' });
  const settle = (homes: object) => server.raw(`projects/${project.id}`, { method: 'PATCH', headers: { 'content-type': 'application/json' }, body: JSON.stringify({ homes }) }); // prettier-ignore
  expect((await settle({ cache: { shelfId: shelf.id, path: 'Caches' } })).status).toBe(204);
  const kept = filesBelow(join(folder, 'data/previews'));
  expect((await ask('late.mov')).status).toBe(200);
  const hidden = at('Caches/.mill-shelf-previews');
  expect([filesBelow(hidden).length, filesBelow(join(folder, 'data/previews'))]).toEqual([2, kept]);
  const word = execFileSync('md5sum', { input: '.IsCacheDirectory', encoding: 'utf8' }).split(' ')[0];
  expect(readFileSync(join(hidden, 'CACHEDIR.TAG'), 'utf8').startsWith(`Signature: ${word}\n`)).toBe(true);
  expect((await stocktake()).filter(({ place }) => place.path.startsWith('Caches'))).toEqual([]);
  // A budget that is full throws away previews alone.
  writeFileSync(join(hidden, 'notes.txt'), 'what somebody put there');
  const small = new PictureCache(hidden, 1, '.mp4');
  await small.make('f'.repeat(64), (part) => Promise.resolve((writeFileSync(part, 'xx'), true)));
  expect(filesBelow(hidden).sort()).toEqual(['CACHEDIR.TAG', 'notes.txt']);
  // Where nothing can be written any more the house keeps them.
  rmSync(at('Caches'), { recursive: true });
  writeFileSync(at('Caches'), 'a file');
  expect((await ask('late.mov')).status).toBe(200);
  expect(filesBelow(join(folder, 'data/previews')).length).toBe(kept.length + 1);
  rmSync(at('Caches'));
});

it('keeps no file open for who has gone', { timeout: 60_000 }, async () => {
  writeFileSync(at('long.wav'), wavBytes(24_000_000));
  const shelf = (await server.get<{ id: string }[]>('shelves'))[0]!.id;
  await server.post(`shelves/${shelf}/stocktake`);
  await server.get(`shelves/${shelf}/stocktake?wait=end`);
  const { rows } = await server.get<{ rows: Item[] }>(`shelves/${shelf}/items?filter=long&limit=10`);
  const open = () =>
    readdirSync(`/proc/${server.pid}/fd`).filter((fd) => {
      try {
        return readlinkSync(`/proc/${server.pid}/fd/${fd}`).endsWith('long.wav');
      } catch {
        return false;
      }
    }).length;
  for (let index = 0; index < 8; index++) {
    const gone = new AbortController();
    const answer = await server.raw(`items/${rows[0]!.id}/media`, { signal: gone.signal });
    await answer.body!.getReader().read();
    gone.abort();
  }
  await expect.poll(open, { timeout: 10_000 }).toBe(0);
});
