/** Errors on their way to the user: by a mark, for the classes exist once in each bundle and none crosses threads. */
import { mkdtempSync, readdirSync, rmSync, utimesSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, describe, expect, it, vi } from 'vitest';
import { BinError } from '../../src/core/project/bins';
import { Problem, problemResponse } from '../../src/server/errors/problem';
import { asProblem } from '../../src/server/errors/as-problem';
import { BridgeError } from '../../src/server/bridges/run-bridge';
import { BundleError } from '../../src/server/bundles/zip-entries';
import { PlanRequestError } from '../../src/server/errors/problem';
import { isReadyJson, readyJson } from '../../src/server/questions/ready-json';
import { PlaceError } from '../../src/server/stock/mounts';
import { Uploads } from '../../src/server/uploads/uploads';

const folder = mkdtempSync(join(tmpdir(), 'mill-problems-'));
afterAll(() => rmSync(folder, { recursive: true }));

describe('problems', () => {
  it.each([
    [new BinError('no'), 409, 'bin'],
    [new BundleError('no'), 400, 'bundle'],
    [new BridgeError('no', 'do this'), 400, 'bridge'],
    [new PlanRequestError('no'), 409, 'no-plan'],
    [new PlaceError('unplugged', 'no'), 409, 'unplugged'],
    [new PlaceError('outside', 'no'), 403, 'outside'],
    [new Problem('not-found', 'no'), 404, 'not-found'],
  ])('%s is told with its own status', (error, status, code) => {
    expect(asProblem(error)).toMatchObject({ status, code, message: 'no' });
  });

  it('one of another bundle is known by its mark; the hint goes along', async () => {
    const twin = Object.assign(new Error('too much'), { [Symbol.for('mill-shelf.problem')]: true, status: 413, code: 'too-large', hint: 'less' });
    const response = problemResponse(asProblem(twin));
    expect(response.status).toBe(413);
    expect(await response.json()).toMatchObject({ code: 'too-large', detail: 'too much', hint: 'less' });
  });

  it('JSON that is ready is known without a class', () => {
    expect(isReadyJson(JSON.parse('{"json":"{}"}'))).toBe(false);
    expect(isReadyJson(readyJson('{}'))).toBe(true);
  });
});

describe('uploads', () => {
  const stream = (...pieces: string[]) => new Response(new Blob(pieces)).body!;

  it('are kept under an id, whatever they are called, and forgotten', async () => {
    const uploads = new Uploads(join(folder, 'a'));
    const id = await uploads.take(stream('ab', 'c'), '../..\\ev/il\u0000.otio', 100);
    const [name] = readdirSync(join(folder, 'a'));
    expect(name).not.toMatch(/[\\/\u0000]/);
    expect(await uploads.file(id)).toMatchObject({ name: '../..\\ev/il\u0000.otio' });
    await uploads.forget(id);
    expect([readdirSync(join(folder, 'a')), await uploads.file(id)]).toEqual([[], null]);
  });

  it('that grow too large or are empty leave nothing behind', async () => {
    const uploads = new Uploads(join(folder, 'b'));
    await expect(uploads.take(stream('x'.repeat(1000)), 'big', 999)).rejects.toThrow('larger than 999 bytes');
    await expect(uploads.take(stream(''), 'none', 999)).rejects.toThrow('empty');
    expect(readdirSync(join(folder, 'b'))).toEqual([]);
  });

  it('left over from yesterday go at the next start', async () => {
    const old = new Uploads(join(folder, 'c'));
    expect(old).toBeDefined();
    writeFileSync(join(folder, 'c/old x'), 'x');
    writeFileSync(join(folder, 'c/new y'), 'y');
    utimesSync(join(folder, 'c/old x'), 0, 0);
    expect(new Uploads(join(folder, 'c'))).toBeDefined();
    await vi.waitFor(() => expect(readdirSync(join(folder, 'c'))).toEqual(['new y']));
  });
});
