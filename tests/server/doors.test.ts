/** A server of its own process: what may be asked by whom, what comes in, what goes out, and what none of it may do. */
import { spawnSync } from 'node:child_process';
import { existsSync, mkdirSync, mkdtempSync, readdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { connect } from 'node:net';
import { tmpdir } from 'node:os';
import { join, resolve } from 'node:path';
import { setTimeout as wait } from 'node:timers/promises';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { LiveServer } from '../helpers/live-server';

const folder = mkdtempSync(join(tmpdir(), 'mill-doors-'));
const server = new LiveServer(folder, ['--host', '0.0.0.0', '--name', 'editing.house']);
beforeAll(() => server.start());
afterAll(async () => {
  await server.kill('SIGTERM');
  rmSync(folder, { recursive: true, force: true });
});

interface Answer {
  readonly status: number;
  readonly headers: Record<string, string>;
  readonly body: string;
}

/** Bytes over a socket, so that nothing is made proper on the way. */
function raw(lines: readonly string[], body = ''): Promise<Answer> {
  return new Promise((done, fail) => {
    const socket = connect(server.port, '127.0.0.1');
    let text = '';
    socket.on('data', (piece: Buffer) => (text += piece.toString()));
    socket.on('error', fail);
    socket.on('close', () => {
      const [head = '', ...rest] = text.split('\r\n\r\n');
      const [first = '', ...headers] = head.split('\r\n');
      const pairs = headers.map((line): [string, string] => [line.slice(0, line.indexOf(':')).toLowerCase(), line.slice(line.indexOf(':') + 2)]);
      done({ status: Number(first.split(' ')[1]), headers: Object.fromEntries(pairs), body: rest.join('\r\n\r\n') });
    });
    socket.write(`${[...lines, 'connection: close'].join('\r\n')}\r\n\r\n${body}`);
  });
}
const get = (path: string, ...headers: string[]) => raw([`GET ${path} HTTP/1.1`, ...(headers.some((line) => line.startsWith('host')) ? [] : ['host: localhost']), ...headers]); // prettier-ignore
const codeOf = ({ status, body }: Answer) => `${status} ${/"code":"([^"]+)"/.exec(body)?.[1] ?? ''}`.trim();

it('what pages load goes out packed as small as the reader can take it, is kept for good, and is the same file', async () => {
  const folderOfAssets = resolve('dist/client/_astro');
  // The largest of the scripts.
  const scripts = readdirSync(folderOfAssets).filter((own) => own.endsWith('.js'));
  const [{ name, plain }] = scripts.map((own) => ({ name: own, plain: readFileSync(join(folderOfAssets, own)) })).sort((a, b) => b.plain.length - a.plain.length) as [{ name: string; plain: Buffer }]; // prettier-ignore
  const ask = (encoding: string, more: Record<string, string> = {}) => fetch(`http://127.0.0.1:${server.port}/_astro/${name}`, { headers: { 'accept-encoding': encoding, ...more } }); // prettier-ignore
  const sizes: number[] = [];
  for (const [encoding, packed] of [
    ['br, gzip', 'br'],
    ['gzip', 'gzip'],
    ['identity', null],
  ] as const) {
    const answer = await ask(encoding);
    expect([answer.status, answer.headers.get('content-encoding'), answer.headers.get('vary'), answer.headers.get('cache-control'), answer.headers.get('x-content-type-options')]).toEqual([200, packed, 'Accept-Encoding', 'public,max-age=31536000,immutable', 'nosniff']); // prettier-ignore
    sizes.push(Number(answer.headers.get('content-length')));
    expect(Buffer.from(await answer.arrayBuffer()).equals(plain)).toBe(true);
    expect((await ask(encoding, { 'if-none-match': answer.headers.get('etag')! })).status).toBe(304);
  }
  expect(sizes[0]! < sizes[1]! && sizes[1]! < sizes[2]! / 2).toBe(true);
  for (const path of ['/_astro/nope.js', '/_astro/../main.mjs', '/_astro/..%2fserver/entry.mjs', '/_astro/']) expect([path, codeOf(await get(path))]).toEqual([path, '404 not-found']); // prettier-ignore
});

describe('who may ask', () => {
  it('addresses and given names; no other name, though it listens everywhere', async () => {
    for (const host of ['127.0.0.1', 'localhost:4780', '[::1]:9', '192.168.1.7:4780', '[fe80::1]', 'editing.house', 'Editing.House:80'])
      expect([host, (await get('/api/projects', `host: ${host}`)).status]).toEqual([host, 200]);
    for (const host of [
      'evil.example',
      'editing.house.evil.example',
      '127.0.0.1.evil.example',
      'localhost@evil.example',
      '',
      'a b',
      '0x7f.1.example',
    ])
      expect([host, codeOf(await get('/api/projects', `host: ${host}`))]).toEqual([host, '403 refused']);
  });

  it('no other site, for reading the interface neither; pages may be linked to', async () => {
    for (const headers of ['sec-fetch-site: cross-site', 'sec-fetch-site: same-site', 'origin: http://evil.example'])
      for (const path of ['/api/projects', '/api/events', '/%61pi/projects', '//api/projects'])
        expect(codeOf(await get(path, headers))).toBe('403 refused');
    expect((await get('/', 'sec-fetch-site: cross-site')).status).toBe(200);
    expect((await get('/api/projects', 'sec-fetch-site: same-origin')).status).toBe(200);
  });
});

describe('what is asked', () => {
  it('wrong methods, odd addresses and ids are problems with the right status, never a mistake inside', async () => {
    const asked: [string, string][] = [
      ['TRACE /', '405 bad-method'],
      ['PUT /api/projects', '405 bad-method'],
      ['DELETE /api/projects', '405 bad-method'],
      ['POST /', '405 bad-method'],
      ['POST /api/events', '405 bad-method'],
      ['GET /api/nothing', '404 not-found'],
      ['GET /api/projects/%E0%A4%A', '400 bad-address'],
      ['GET /api/projects/%00', '400 bad-address'],
      ['GET /p/%', '400 bad-address'],
      ['GET /_image?href=/etc/passwd', '404 not-found'],
      ['GET //_image', '404 not-found'],
      ['GET /_server-islands/x', '404 not-found'],
      ['GET /p/nobody/overview', '404'],
      ['GET /p/a%2Fb/pull', '404'],
      ['GET /p/..%2f..%2fetc/pull', '404'],
      ['GET /receipts/999999999999999999999', '404'],
      ['GET /api/items/x/poster?frame=NaN', '404 not-found'],
      ['GET /api/shelves/x/folders?path=a', '409 unplugged'],
      ['GET /api/runs/1e3', '404 not-found'],
      ['GET /api/folders?path=/etc/passwd', '403 not-allowed'],
      ['GET /api/folders?path=%00', '403 not-allowed'],
    ];
    for (const [line, expected] of asked)
      expect(`${line} → ${codeOf(await raw([`${line} HTTP/1.1`, 'host: localhost']))}`).toBe(`${line} → ${expected}`);
    expect((await raw(['DELETE /api/projects HTTP/1.1', 'host: localhost'])).headers.allow).toBe('GET, POST, HEAD');
  });

  it('a file where a folder is wanted is no folder; names of blanks are none', async () => {
    writeFileSync(join(folder, 'a.txt'), 'x');
    expect((await server.ask<{ code: string }>('GET', `folders?path=${encodeURIComponent(join(folder, 'a.txt'))}`)).status).toBe(404);
    const { id } = await server.post<{ id: string }>('projects', { name: 'Bell', rate: { num: 25, den: 1 } });
    for (const [method, path] of [
      ['POST', 'projects'],
      ['PATCH', `projects/${id}`],
    ] as const)
      // prettier-ignore
      expect((await server.ask(method, path, { name: '  ', ...(method === 'POST' ? { rate: { num: 25, den: 1 } } : {}) })).status).toBe(400);
    for (const edit of [
      { do: 'make-bin', parent: '', name: ' ' },
      { do: 'change-clips', clipIds: ['x'], change: { name: ' ' } },
    ])
      expect((await server.ask('POST', `projects/${id}/bins`, edit)).status).toBe(400);
  });

  it('ids of another project are refused, not passed over', async () => {
    const rate = { num: 25, den: 1 };
    const [a, b] = await Promise.all(['A', 'B'].map((name) => server.post<{ id: string }>('projects', { name, rate })));
    const text = 'TITLE: X\n001  A001     V     C        09:14:00:00 09:14:02:00 10:00:00:00 10:00:02:00\n';
    const { timelineIds } = await server.post<{ timelineIds: string[] }>(`projects/${a!.id}/timelines`, { name: 'x.edl', text });
    const [clip] = (await server.get<{ rows: { id: string }[] }>(`projects/${a!.id}/clips`)).rows;
    const foreign: [string, string, unknown][] = [
      ['PATCH', `projects/${b!.id}/clips`, { clipIds: [clip!.id], setAside: true }],
      ['POST', `projects/${b!.id}/bins`, { do: 'change-clips', clipIds: [clip!.id], change: { note: 'x' } }],
      ['POST', `projects/${b!.id}/usage`, { timelineIds }],
      ['POST', `projects/${b!.id}/usage`, { timelineIds: [], clipIds: [clip!.id] }],
      ['POST', 'plans', { projectId: b!.id, kind: 'export', settings: { timelineIds, format: 'edl', destination: null, folderName: '' } }],
    ];
    for (const [method, path, body] of foreign)
      expect([path, [404, 409].includes((await server.ask(method, path, body)).status)]).toEqual([path, true]);
    expect((await server.ask('PATCH', `projects/${a!.id}/clips`, { clipIds: [clip!.id], setAside: true })).status).toBe(200);
  });
});

describe('what comes in', () => {
  const post = (path: string, body: string, ...headers: string[]) => raw([`POST ${path} HTTP/1.1`, 'host: localhost', 'content-type: application/json', `content-length: ${Buffer.byteLength(body)}`, ...headers], body); // prettier-ignore

  it('bodies are small, flat JSON; what says it is larger is refused before it comes', async () => {
    expect(codeOf(await post('/api/projects', '['.repeat(20_000)))).toBe('400 too-deep');
    expect(codeOf(await post('/api/projects', `{"a":${'{"a":'.repeat(40)}1${'}'.repeat(41)}`))).toBe('400 too-deep');
    expect(codeOf(await post('/api/projects', JSON.stringify({ name: '{'.repeat(100) })))).toBe('400 bad-body');
    expect(codeOf(await post('/api/projects', ' '.repeat(1_100_000)))).toBe('413 too-large');
    const began = Date.now();
    expect(codeOf(await raw(['POST /api/plans HTTP/1.1', 'host: localhost', 'content-length: 99999999999']))).toBe('413 too-large');
    expect(Date.now() - began).toBeLessThan(2000);
  });

  it('who sends too much hears so, and is not cut off in the middle', async () => {
    const piece = new Uint8Array(1024 * 1024).fill(32);
    const pieces = (count: number) => new ReadableStream({ pull: (into) => (count-- > 0 ? into.enqueue(piece) : into.close()) }); // prettier-ignore
    const send = (path: string, body: ReadableStream | Uint8Array, duplex: object = {}) => fetch(`http://127.0.0.1:${server.port}/api/${path}`, { method: 'POST', headers: { 'content-type': 'application/json' }, body: body as never, ...duplex }); // prettier-ignore
    for (const [path, body, half] of [
      ['projects', pieces(40), { duplex: 'half' }],
      ['projects', new Uint8Array(40 * 1024 * 1024).fill(32), {}],
      ['uploads?name=large.otio', pieces(160), { duplex: 'half' }],
    ] as const) {
      const answer = await send(path, body, half);
      expect([path, answer.status, ((await answer.json()) as { code: string }).code]).toEqual([path, 413, 'too-large']);
    }
  });

  it('uploads take any name, and only so much', async () => {
    const name = encodeURIComponent(`${'鐘'.repeat(120)}.otio`);
    const uploaded = await post(`/api/uploads?name=${name}`, 'hello');
    expect(uploaded.status).toBe(200);
    const kept = readdirSync(join(folder, 'data/uploads'));
    expect([kept.length, decodeURIComponent(kept[0]!).endsWith('.otio'), Buffer.byteLength(kept[0]!) < 255]).toEqual([1, true, true]);
    expect(codeOf(await post('/api/uploads?name=%2e%2e%2fx', ''))).toMatch(/^400/);
  });
});

describe('what goes out', () => {
  it('has its headers, whatever it is; scripts of pages are known by their content', async () => {
    for (const path of ['/', '/api/projects', '/api/nothing', '/icon.svg', '/p/nobody/pull']) {
      const { headers } = await get(path);
      expect([path, headers['x-content-type-options'], headers['referrer-policy'], headers['cross-origin-resource-policy']]).toEqual([path, 'nosniff', 'same-origin', 'same-origin']); // prettier-ignore
      expect([path, headers['content-security-policy']]).toEqual([path, expect.stringMatching(/frame-ancestors 'none'/)]);
      expect(/script-src[^;]*unsafe/.test(headers['content-security-policy'] ?? '')).toBe(false);
    }
    expect((await get('/')).headers['content-security-policy']).toContain("'sha256-");
  });

  it('how the server does is told to its own machine; whoever says to be that through another server is told nothing', async () => {
    expect((await get('/api/health')).status).toBe(200);
    for (const header of ['x-forwarded-for: 127.0.0.1', 'forwarded: for=127.0.0.1'])
      expect([header, codeOf(await get('/api/health', header))]).toEqual([header, '403 refused']);
  });

  it('HEAD of the news ends at once; a reader that does not read is let go; the others hear', async () => {
    const head = await raw(['HEAD /api/events HTTP/1.1', 'host: localhost']);
    expect([head.status, head.headers['content-type']]).toEqual([200, 'text/event-stream']);
    const heard = await new Promise<string>((done) => {
      const socket = connect(server.port, '127.0.0.1');
      let text = '';
      socket.on('data', (piece: Buffer) => {
        text += piece.toString();
        if (text.includes('event: changed')) socket.destroy();
      });
      socket.on('close', () => done(text));
      socket.write('GET /api/events HTTP/1.1\r\nhost: localhost\r\n\r\n');
      void wait(300).then(() => server.post('projects', { name: 'News', rate: { num: 25, den: 1 } }));
    });
    expect(heard).toMatch(/event: hello[\s\S]*event: changed/);
  });
});

describe('flags', () => {
  const start = (...args: string[]) => spawnSync(process.execPath, [resolve('dist/main.mjs'), '--data', join(folder, 'other'), ...args], { encoding: 'utf8', timeout: 20_000 }); // prettier-ignore

  it('without a value or with a wrong one are refused with words', () => {
    for (const [args, words] of [
      [['--host', ''], /--host needs a value/],
      [['--port', ''], /--port needs a value/],
      [['--port', '1e3'], /is not a port/],
      [['--port', '70000'], /is not a port/],
      [['--name', ''], /--name needs a value/],
      [['--host', '203.0.113.9', '--check'], /no address of this machine/],
      [['--port', String(server.port), '--host', '0.0.0.0', '--check'], /is taken/],
    ] as const) {
      const { status, stderr } = start(...args);
      expect([args, status !== 0, words.test(stderr)]).toEqual([args, true, true]);
    }
    expect(existsSync(join(folder, 'other'))).toBe(false);
  });

  it('an IPv6 address is one', async () => {
    const six = new LiveServer(join(folder, 'six'), ['--host', '::1']);
    mkdirSync(join(folder, 'six'));
    try {
      await six.start();
      expect((await six.ask('GET', 'projects')).status).toBe(200);
    } finally {
      await six.kill('SIGTERM');
    }
  });
});

describe('the demo', () => {
  const make = (target: string, ...flags: string[]) =>
    spawnSync(process.execPath, [resolve('dist/make-demo.mjs'), target, ...flags], { encoding: 'utf8' });

  it('removes nobody else’s folder, and none that is in use', () => {
    const own = join(folder, 'mine');
    mkdirSync(own);
    writeFileSync(join(own, 'only footage.mov'), 'x');
    for (const flags of [[], ['--fresh']])
      expect(make(own, ...flags)).toMatchObject({ status: 6, stderr: expect.stringContaining('nothing was removed') as string });
    expect(readFileSync(join(own, 'only footage.mov'), 'utf8')).toBe('x');
    // The data folder of the server above, with a mark as if it were a demo's.
    writeFileSync(join(folder, 'mill-shelf-demo.txt'), '');
    expect(make(folder, '--fresh')).toMatchObject({ status: 6, stderr: expect.stringContaining('Nothing was removed') as string });
    expect(existsSync(join(folder, 'data/catalogue.sqlite'))).toBe(true);
  });
});
