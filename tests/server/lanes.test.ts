/** Nothing that takes long holds up the rest: limits of lanes, answers that nobody takes, a catalogue that another writes to. */
import { createWriteStream } from 'node:fs';
import { createServer } from 'node:http';
import type { AddressInfo } from 'node:net';
import { connect } from 'node:net';
import { join } from 'node:path';
import { Readable } from 'node:stream';
import { setTimeout as wait } from 'node:timers/promises';
import { ZipFile } from 'yazl';
import { afterEach, beforeEach, expect, it } from 'vitest';
import { answerTo, heldBack } from '../../src/server/api/held-back';
import { openDatabase } from '../../src/server/catalogue/database';
import { askStudy } from '../../src/server/questions/ask';
import { makeHouse, type SmallHouse } from '../helpers/small-house';
import { bringSounds, copyStep, endOf, planOf, pullSettings } from '../helpers/trust-house';

let small: SmallHouse;
beforeEach(() => {
  small = makeHouse();
});
afterEach(() => small.remove());

it('a plan that takes too long is given up with a word; views and the next plan go on', async () => {
  const id = await bringSounds(small, 'one.wav');
  const { config } = small.house;
  const plan = { ask: 'plan' as const, projectId: small.projectId, request: { kind: 'pull' as const, settings: pullSettings(small, id) } };
  const view = { ask: 'overview' as const, projectId: small.projectId };
  const tooLong = askStudy(config, plan, 1);
  const seen = askStudy(config, view);
  await expect(tooLong).rejects.toMatchObject({ status: 503, code: 'takes-too-long', message: expect.stringContaining('0.001 seconds') as string });
  expect(JSON.parse((await seen).json)).toMatchObject({ clips: 1 });
  expect(JSON.parse((await askStudy(config, plan)).json)).toMatchObject({ plan: { blocked: null } });
});

it('a large answer goes out as it is taken, whole, whatever signs stand at the seams', async () => {
  // Signs of four bytes everywhere: some lie across the seams.
  const text = JSON.stringify('x\u{1f514}'.repeat(3_000_000));
  let handed = 0;
  const server = createServer((_, response) => {
    void answerTo(response, async () => {
      const reader = new Response(heldBack(text)).body!.getReader();
      for (let piece = await reader.read(); !piece.done; piece = await reader.read()) {
        handed += piece.value.length;
        response.write(piece.value);
      }
      response.end();
    });
  });
  await new Promise<void>((done) => server.listen(0, '127.0.0.1', done));
  const socket = connect((server.address() as AddressInfo).port, '127.0.0.1');
  const pieces: Buffer[] = [];
  socket.write('GET / HTTP/1.0\r\n\r\n');
  // Until the system takes no more of it.
  for (let before = -1; handed === 0 || handed !== before;) {
    before = handed;
    await wait(100);
  }
  const size = Buffer.byteLength(text);
  // What the system holds for the socket on both sides, not the answer.
  expect(handed).toBeLessThan(size / 2);
  socket.on('data', (piece) => pieces.push(piece));
  await new Promise((done) => socket.on('close', done));
  const all = Buffer.concat(pieces).toString();
  expect(all.slice(all.indexOf('\r\n\r\n') + 4) === text).toBe(true);
  server.close();
});

it('a reader that goes away in the middle of a large answer ends it', async () => {
  const text = JSON.stringify('y'.repeat(30_000_000));
  let [begun, ended] = [false, false];
  const server = createServer((_, response) => {
    void answerTo(response, async () => {
      const reader = new Response(heldBack(text)).body!.getReader();
      response.on('close', () => void reader.cancel());
      for (let piece = await reader.read(); !piece.done; piece = await reader.read()) {
        begun = true;
        response.write(piece.value);
      }
      ended = true;
    });
  });
  await new Promise<void>((done) => server.listen(0, '127.0.0.1', done));
  const socket = connect((server.address() as AddressInfo).port, '127.0.0.1');
  socket.write('GET / HTTP/1.0\r\n\r\n');
  await expect.poll(() => begun, { timeout: 5_000 }).toBe(true);
  socket.destroy();
  await expect.poll(() => ended, { timeout: 5_000 }).toBe(true);
  server.close();
});

it('while another thread writes for long, a run waits and the event loop goes on', async () => {
  await bringSounds(small, 'one.wav');
  const other = openDatabase(join(small.folder, 'data/catalogue.sqlite'), true);
  const id = small.house.runner.submit(planOf(small, [copyStep(small, 'one.wav')]));
  other.exec('BEGIN IMMEDIATE');
  let ticks = 0;
  const timer = setInterval(() => ticks++, 10);
  await wait(1500);
  expect(small.house.catalogue.runs.get(id)!.state).not.toBe('done');
  other.exec('COMMIT');
  other.close();
  clearInterval(timer);
  const ended = await endOf(small, id);
  expect([ended.run.state, ended.rows.map((row) => row.message)]).toEqual(['done', [null]]);
  // A write that finds the catalogue held gives up soon: a loop that stood still meanwhile would not tick at all.
  expect(ticks).toBeGreaterThan(5);
});

it('a bundle whose timeline unfolds a thousandfold, or into nothing but brackets, is refused before memory is spent on it', async () => {
  const bundle = (name: string, sign: string, megabytes: number) =>
    new Promise<void>((done, fail) => {
      const zip = new ZipFile();
      const piece = Buffer.alloc(1024 * 1024, sign);
      zip.addReadStream(Readable.from(Array.from({ length: megabytes }, () => piece)), 'content.otio');
      zip.outputStream
        .pipe(createWriteStream(join(small.source.root, name)))
        .on('close', done)
        .on('error', fail);
      zip.end();
    });
  await bundle('blanks.otioz', ' ', 300);
  await bundle('brackets.otioz', '[', 12);
  await small.stocktake(small.source.id);
  const before = process.memoryUsage().rss;
  for (const [name, words] of [
    ['blanks.otioz', 'times its size'],
    ['brackets.otioz', 'levels deep'],
  ] as const) {
    // prettier-ignore
    const settings = { bundle: { shelfId: small.source.id, path: name }, destination: { shelfId: small.vault.id, path: '' }, folderName: 'x' };
    await expect(askStudy(small.house.config, { ask: 'plan', projectId: small.projectId, request: { kind: 'unpack', settings } })).rejects.toMatchObject({ status: 400, code: 'bundle', message: expect.stringContaining(words) as string }); // prettier-ignore
  }
  expect(process.memoryUsage().rss - before).toBeLessThan(200 * 1024 * 1024);
});
