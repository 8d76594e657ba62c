/** The process that reads files by the library: whatever ends or holds it up, ffprobe is asked, and it is begun anew. */
import { execFileSync } from 'node:child_process';
import { mkdtempSync, readdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { setTimeout as wait } from 'node:timers/promises';
import { afterAll, beforeAll, expect, it } from 'vitest';
import { probeFacts } from '../../src/server/media/probe';
import { pictureComesFast, probeFast } from '../../src/server/media/reader/media-reader';
import { ffmpeg } from '../helpers/small-house';

let folder = '';
let film = '';
beforeAll(async () => {
  folder = mkdtempSync(join(tmpdir(), 'media-reader-'));
  film = join(folder, 'film.mov');
  await ffmpeg('-f', 'lavfi', '-i', 'testsrc2=s=192x108:r=25:d=1', '-c:v', 'mjpeg', '-timecode', '10:00:00:00', `file:${film}`);
});
afterAll(() => rmSync(folder, { recursive: true, force: true }));

/** Readers that this process has begun. */
function readers(): number[] {
  return readdirSync('/proc')
    .filter((name) => /^\d+$/.test(name))
    .filter((pid) => {
      try {
        const isOurs = readFileSync(`/proc/${pid}/stat`, 'latin1').split(') ')[1]!.split(' ')[1] === String(process.pid);
        return isOurs && readFileSync(`/proc/${pid}/cmdline`, 'latin1').includes('media-reader');
      } catch {
        return false;
      }
    })
    .map(Number);
}

async function whenItAnswers(): Promise<NonNullable<Awaited<ReturnType<typeof probeFast>>>> {
  for (const end = Date.now() + 20_000; Date.now() < end; await wait(50)) {
    const probe = await probeFast(film);
    if (probe) return probe;
  }
  throw new Error('The reader does not begin.');
}

it('is begun when there are many files, dies in the middle of them, and no file is told otherwise', async () => {
  const probe = await whenItAnswers();
  expect(probe.streams?.[0]).toMatchObject({ codec_name: 'mjpeg', nb_frames: '25', avg_frame_rate: '25/1' });
  const expected = await probeFacts(film, null);
  expect(expected).toMatchObject({ durationFrames: 25, startTimecode: '10:00:00:00' });
  const told = Array.from({ length: 60 }, () => probeFacts(film, null));
  for (const pid of readers()) process.kill(pid, 'SIGKILL');
  for (const facts of await Promise.all(told)) expect(facts).toEqual(expected);
  await whenItAnswers();
  expect(readers()).toHaveLength(1);
});

it('what it cannot open, and what is no media, is for ffprobe', async () => {
  await whenItAnswers();
  const noise = join(folder, 'noise.mov');
  writeFileSync(noise, Buffer.from(Array.from({ length: 5000 }, (_, index) => (index * 7919) % 251)));
  expect(await probeFast(noise)).toBeNull();
  await expect(probeFacts(noise, null)).rejects.toThrow('It cannot be read as media');
  expect(await pictureComesFast({ file: noise, container: 'mov', seconds: 0, fromKey: false })).toBe(false);
  expect(await pictureComesFast({ file: film, container: 'mov', seconds: 0.9, fromKey: false })).toBe(true);
});

it('a file that never opens holds it up for ten seconds, then it is begun anew', async () => {
  await whenItAnswers();
  const [before] = readers();
  const pipe = join(folder, 'pipe.mov');
  execFileSync('mkfifo', [pipe]);
  expect(await probeFast(pipe)).toBeNull();
  await whenItAnswers();
  expect(readers()).toHaveLength(1);
  expect(readers()).not.toContain(before);
});
