/** Outside commands and what they look at: limits of time, of what is printed, of groups; pictures in their turn. */
import { execFileSync } from 'node:child_process';
import { existsSync, mkdirSync, mkdtempSync, readdirSync, readFileSync, rmSync, utimesSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { setTimeout as wait } from 'node:timers/promises';
import { afterAll, describe, expect, it, vi } from 'vitest';
import { BridgeError, runBridge } from '../../src/server/bridges/run-bridge';
import { PictureCache } from '../../src/server/media/picture-cache';
import { PictureQueue, TooManyPictures } from '../../src/server/media/picture-queue';
import { probeFacts } from '../../src/server/media/probe';
import { elementText, readXml } from '../../src/server/media/xml';
import { runCommand } from '../../src/server/outside/run-command';
import { makeHouse } from '../helpers/small-house';
import { wavBytes } from '../helpers/trust-house';

const folder = mkdtempSync(join(tmpdir(), 'mill-outside-'));
afterAll(() => rmSync(folder, { recursive: true, force: true }));

const isGoing = (pidFile: string): boolean => {
  try {
    // Z: ended, and only not counted off yet.
    return !/\) Z /.test(readFileSync(`/proc/${Number(readFileSync(pidFile, 'utf8'))}/stat`, 'utf8'));
  } catch {
    return false;
  }
};

/** It was told to end: a busy system takes a moment. */
const over = (pidFile: string) => vi.waitFor(() => expect(isGoing(pidFile)).toBe(false), { timeout: 5000 });

describe('an outside command', () => {
  const shell = (script: string, limits: Partial<Parameters<typeof runCommand>[2]> = {}) =>
    runCommand('sh', ['-c', script], { timeLimitMs: 10_000, ...limits });

  it('that takes too long is ended with its children and theirs, and the answer comes at once', async () => {
    const pid = join(folder, 'child.pid');
    const began = Date.now();
    const result = await shell(`(sleep 60 & echo $! > ${pid}; wait) & sleep 60`, { timeLimitMs: 700 });
    expect([result.ended, result.exitCode]).toEqual(['time', null]);
    expect(Date.now() - began).toBeLessThan(4000);
    await over(pid);
  });

  it('that ends and leaves a child behind does not leave it, and nobody waits for its pipes', async () => {
    const pid = join(folder, 'left.pid');
    const result = await shell(`sleep 60 & echo $! > ${pid}; echo done`);
    expect([result.ended, result.exitCode, result.stdout]).toEqual([null, 0, 'done\n']);
    await over(pid);
  });

  it('may print so much, be stopped, not be there, and fail', async () => {
    expect((await shell('yes', { mostPrintedBytes: 100_000 })).ended).toBe('printed');
    const abort = new AbortController();
    setTimeout(() => abort.abort(), 200);
    expect((await shell('sleep 60', { signal: abort.signal })).ended).toBe('stopped');
    expect((await shell('sleep 60', { signal: AbortSignal.abort() })).ended).toBe('stopped');
    expect((await runCommand('/nowhere/tool', [], { timeLimitMs: 1000 })).ended).toBe('missing');
    const plain = join(folder, 'plain');
    writeFileSync(plain, '#!/bin/sh\n', { mode: 0o644 });
    expect((await runCommand(plain, [], { timeLimitMs: 1000 })).ended).toBe('denied');
    expect(await shell('echo no >&2; exit 3')).toMatchObject({ ended: null, exitCode: 3, stderr: 'no\n' });
  });

  it('gets only so much memory', async () => {
    const greedy = 'a=[]\nfor i in range(64): a.append(bytearray(64*1024*1024))';
    const result = await runCommand('python3', ['-c', greedy], { timeLimitMs: 60_000, mostMemoryBytes: 512 * 1024 * 1024 });
    expect(result.exitCode).not.toBe(0);
    expect(result.stderr).toContain('MemoryError');
  });
});

describe('a bridge', () => {
  const bridge = (script: string, timeLimitSeconds = 20) => ({ name: 'B', endings: ['.x'], command: ['sh', '-c', script], timeLimitSeconds });

  it('leaves no child that made a session of its own, and tells what it made of its output', async () => {
    const pid = join(folder, 'session.pid');
    await expect(runBridge(bridge(`setsid sh -c 'echo $$ > ${pid}; sleep 60' & sleep 0.5; mkdir "$0"`), 'a.x', Buffer.from('x'))).rejects.toThrow(BridgeError); // prettier-ignore
    await over(pid);
    expect(existsSync(pid)).toBe(true);
    const folderMade = { ...bridge(''), command: ['mkdir', '{output}'] };
    await expect(runBridge(folderMade, 'a.x', Buffer.from('x'))).rejects.toThrow('The bridge "B" made {output} a folder or a link, not a file.');
    const linked = { ...bridge(''), command: ['ln', '-s', '/etc/passwd', '{output}'] };
    await expect(runBridge(linked, 'a.x', Buffer.from('x'))).rejects.toThrow('a folder or a link');
    const plain = { ...bridge(''), command: [join(folder, 'plain')] };
    writeFileSync(join(folder, 'plain'), '#!/bin/sh\n', { mode: 0o644 });
    await expect(runBridge(plain, 'a.x', Buffer.from('x'))).rejects.toThrow(/plain may not be executed/);
  });
  const bridgesLeft = () => readdirSync(tmpdir()).filter((name) => name.startsWith('mill-bridge-'));

  it('that writes without end is stopped long before its time, its folder removed', async () => {
    const before = bridgesLeft();
    const began = Date.now();
    await expect(runBridge(bridge('cat /dev/zero > big & wait'), 'a.x', Buffer.from('x'))).rejects.toThrow(/wrote more than/);
    expect(Date.now() - began).toBeLessThan(15_000);
    expect(bridgesLeft()).toEqual(before);
  });

  it('that nobody waits for any more is stopped; the next one has its turn', async () => {
    const abort = new AbortController();
    const first = runBridge(bridge('sleep 60'), 'a.x', Buffer.from('x'), abort.signal).catch((error: unknown) => error);
    const second = runBridge(bridge('exit 4'), 'a.x', Buffer.from('x')).catch((error: unknown) => error);
    setTimeout(() => abort.abort(), 200);
    expect(await first).toBeInstanceOf(BridgeError);
    expect((await second) as Error).toMatchObject({ message: expect.stringContaining('exit code 4') as string });
  });
});

describe('pictures in their turn', () => {
  const queue = () => new PictureQueue(2, 3);
  const slow =
    (log: string[], name: string, result: Buffer | null = Buffer.from(name)) =>
    async (signal: AbortSignal) => {
      log.push(name);
      for (let turn = 0; turn < 10 && !signal.aborted; turn++) await wait(10);
      return signal.aborted ? null : result;
    };

  it('one making serves all who want the same', async () => {
    const log: string[] = [];
    const pictures = queue();
    const [a, b] = await Promise.all([pictures.get('a', slow(log, 'a')), pictures.get('a', slow(log, 'a'))]);
    expect([log, a?.toString(), b?.toString()]).toEqual([['a'], 'a', 'a']);
  });

  it('two at a time, the newest wanted next, the oldest dropped when too many wait', async () => {
    const log: string[] = [];
    const pictures = queue();
    const answers = ['a', 'b', 'c', 'd', 'e', 'f'].map((name) => pictures.get(name, slow(log, name)).then(String, (error: Error) => error.constructor.name)); // prettier-ignore
    expect(await Promise.all(answers)).toEqual(['a', 'b', TooManyPictures.name, 'd', 'e', 'f']);
    expect(log).toEqual(['a', 'b', 'f', 'e', 'd']);
  });

  it('none for nobody: given up when the last one leaves, made anew for who comes later', async () => {
    const log: string[] = [];
    const pictures = queue();
    const leaves = new AbortController();
    const gone = pictures.get('a', slow(log, 'a'), leaves.signal);
    await wait(20);
    leaves.abort();
    const later = pictures.get('a', slow(log, 'a again'));
    expect(await gone).toBeNull();
    expect((await later)?.toString()).toBe('a again');
  });

  it('what cannot be made is not tried again', async () => {
    const log: string[] = [];
    const pictures = queue();
    expect([await pictures.get('a', slow(log, 'a', null)), await pictures.get('a', slow(log, 'a', null)), log]).toEqual([null, null, ['a']]);
  });

  it('are kept within a budget, the longest unused go; an empty or half-made one never counts', async () => {
    const own = join(folder, 'cache');
    const [a, b, c, d] = ['a', 'b', 'c', 'd'].map((sign) => sign.repeat(64)) as [string, string, string, string];
    const cache = new PictureCache(own, 1000);
    const make = (bytes: number) => (part: string) => Promise.resolve(writeFileSync(part, Buffer.alloc(bytes, 1))).then(() => true);
    expect(await cache.put(a, make(0))).toBeNull();
    expect(await cache.get(a)).toBeNull();
    await expect(cache.put(a, () => Promise.reject(new Error('no')))).rejects.toThrow('no');
    for (const [index, key] of [a, b, c].entries()) {
      await cache.put(key, make(400));
      utimesSync(join(own, key.slice(0, 2), `${key}.jpg`), 1000 + index, 1000 + index);
    }
    await cache.put(d, make(400));
    expect(await Promise.all([a, b, d].map(async (key) => (await cache.get(key)) !== null))).toEqual([false, false, true]);
    expect(readdirSync(own).flatMap((name) => readdirSync(join(own, name))).filter((name) => name.endsWith('.part'))).toEqual([]); // prettier-ignore
  });
});

describe('foreign bytes', () => {
  it.each([
    ['an open tag and blanks', `<TAPE>${' '.repeat(130_000)}`],
    ['a tag that does not end', `<BWFXML><TAPE${' '.repeat(130_000)}`],
    ['tags within each other', `${'<TAPE>'.repeat(20_000)}x</TAPE>`],
    ['entities', `<!DOCTYPE a [${'<!ENTITY x "&x;&x;">'.repeat(6_000)}]><TAPE/>`],
    ['brackets', '<'.repeat(130_000)],
    ['a megabyte', `<a><TAPE>A001</TAPE>${'<b/>'.repeat(250_000)}</a>`],
  ])('XML of %s is read in no time, and tells nothing', (_name, text) => {
    const began = Date.now();
    expect(elementText(readXml(text), 'TAPE')).toBeNull();
    expect(Date.now() - began).toBeLessThan(1000);
  });

  it('XML is read as it stands: entities untouched, numbers as they are written, padding passed over', () => {
    const text = '<?xml version="1.0"?><BWFXML><TAPE a="b">\n 0042 </TAPE><FILE_SET><FAMILY_UID>&amp;x</FAMILY_UID></FILE_SET></BWFXML>\0\0';
    const document = readXml(text);
    expect([elementText(document, 'TAPE'), elementText(document, 'FAMILY_UID'), elementText(document, 'BWFXML')]).toEqual(['0042', '&amp;x', null]);
    expect(elementText(readXml('<a><TAPE>A</TAPE><open>'), 'TAPE')).toBe('A');
    expect(readXml('no XML at all')).toBeNull();
  });

  it('sound of rate 0 is an item with a problem', async () => {
    const small = makeHouse();
    try {
      const bytes = wavBytes(4800);
      bytes.writeUInt32LE(0, 24);
      writeFileSync(join(small.source.root, 'silent.wav'), bytes);
      await small.stocktake(small.source.id);
      const [item] = small.house.catalogue.items.onShelf(small.source.id);
      expect([item?.place.path, typeof item?.problem]).toEqual(['silent.wav', 'string']);
    } finally {
      await small.remove();
    }
  });

  it('a giant picture costs neither memory nor time, and says so', async () => {
    const png = join(folder, 'giant.png');
    // 16,384 by 16,384 of one colour in a few kilobytes, by Python's own zlib.
    const make = 'import zlib,struct,sys\nw=h=16384\nc=zlib.compressobj(9)\nd=b"".join(c.compress(b"\\0"*(w+1)) for _ in range(h))+c.flush()\nk=lambda t,b: struct.pack(">I",len(b))+t+b+struct.pack(">I",zlib.crc32(t+b))\nopen(sys.argv[1],"wb").write(b"\\x89PNG\\r\\n\\x1a\\n"+k(b"IHDR",struct.pack(">IIBBBBB",w,h,8,0,0,0,0))+k(b"IDAT",d)+k(b"IEND",b""))'; // prettier-ignore
    execFileSync('python3', ['-c', make, png]);
    const began = Date.now();
    await expect(probeFacts(png, null)).rejects.toThrow(/more than 134217728 pixels/);
    expect(Date.now() - began).toBeLessThan(5000);
  });

  it('a picture is one whatever its name says', async () => {
    const small = makeHouse();
    try {
      execFileSync('ffmpeg', ['-loglevel', 'error', '-f', 'lavfi', '-i', 'testsrc2=size=64x36:rate=1:duration=1', '-frames:v', '1', '-f', 'image2', '-c:v', 'png', '-update', '1', `file:${join(folder, 'one.png')}`, '-y']); // prettier-ignore
      const picture = readFileSync(join(folder, 'one.png'));
      for (const name of ['frame.pic', 'p%03d.png', 'shot.TIF.bak']) writeFileSync(join(small.source.root, name), picture);
      await small.stocktake(small.source.id);
      for (const item of small.house.catalogue.items.onShelf(small.source.id)) {
        expect([item.place.path, item.facts.kind, item.problem]).toEqual([item.place.path, 'still', null]);
        expect((await small.house.posters.frame(item, small.house.mounts.resolve(item.place), 0))?.length, item.place.path).toBeGreaterThan(100);
      }
    } finally {
      await small.remove();
    }
  });

  it('the same poster asked many times at once is one picture, never an empty one', async () => {
    const small = makeHouse();
    try {
      mkdirSync(join(small.source.root, 'x'));
      writeFileSync(join(small.source.root, 'x/a.png'), readFileSync(join(folder, 'one.png')));
      await small.stocktake(small.source.id);
      const [item] = small.house.catalogue.items.onShelf(small.source.id);
      const path = small.house.mounts.resolve(item!.place);
      const all = await Promise.all(Array.from({ length: 30 }, () => small.house.posters.frame(item!, path, 0)));
      expect(new Set(all.map((picture) => picture?.toString('hex').slice(0, 60))).size).toBe(1);
      expect(all[0]!.length).toBeGreaterThan(100);
      expect(existsSync(join(small.house.config.dataFolder, 'posters'))).toBe(true);
    } finally {
      await small.remove();
    }
  });
});
