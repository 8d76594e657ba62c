/** The line of news: told once a tick to all, from counters; who does not read is let go. */
import { EventEmitter } from 'node:events';
import type { ServerResponse } from 'node:http';
import { setTimeout as wait } from 'node:timers/promises';
import { afterEach, beforeEach, expect, it, vi } from 'vitest';
import { NewsDesk } from '../../src/server/api/news-desk';
import { makeHouse, type SmallHouse } from '../helpers/small-house';
import { copyStep, planOf } from '../helpers/trust-house';
import { writeFileSync } from 'node:fs';
import { join } from 'node:path';

let small: SmallHouse;
beforeEach(() => {
  small = makeHouse();
});
afterEach(() => small.remove());

/** A page that reads, or does not. */
class Page extends EventEmitter {
  heard = '';
  writableLength = 0;
  gone = false;

  constructor(private readonly reads = true) {
    super();
  }
  writeHead(): void {}
  write(text: string): void {
    if (this.reads) this.heard += text;
    else this.writableLength += text.length;
  }
  destroy(): void {
    this.gone = true;
    this.emit('close');
  }
}
const open = (desk: NewsDesk, page: Page) => desk.open(page as unknown as ServerResponse);

it('a run of many steps costs one summary a tick, however many pages listen', async () => {
  const names = Array.from({ length: 60 }, (_, index) => `f${index}.bin`);
  for (const name of names) writeFileSync(join(small.source.root, name), name);
  await small.stocktake(small.source.id);
  const desk = new NewsDesk(small.house);
  const pages = Array.from({ length: 20 }, () => new Page());
  for (const page of pages) expect(open(desk, page)).toBe(true);
  const counted = vi.spyOn(small.house.catalogue.runs, 'counts');
  const read = vi.spyOn(small.house.catalogue.runs, 'steps');
  const began = Date.now();
  const id = small.house.runner.submit(planOf(small, names.map((name) => copyStep(small, name)))); // prettier-ignore
  await small.house.runner.finished(id);
  const readByRunner = read.mock.calls.length;
  await wait(1000);
  expect(counted.mock.calls.length).toBeLessThanOrEqual((Date.now() - began) / 400 + 2);
  expect(read.mock.calls.length).toBe(readByRunner);
  for (const page of pages) expect(page.heard).toMatch(/event: run\ndata: .*"state":"done"/);
  for (const page of pages) page.destroy();
  expect(desk.size).toBe(0);
});

it('a page that does not read is let go, the others go on hearing', async () => {
  const desk = new NewsDesk(small.house);
  const [reads, sleeps] = [new Page(), new Page(false)];
  open(desk, reads);
  open(desk, sleeps);
  sleeps.writableLength = 300 * 1024;
  small.house.changed('bins', 'p1');
  await vi.waitFor(() => expect(sleeps.gone).toBe(true), { timeout: 3000 });
  expect([desk.size, reads.heard.includes('event: changed\ndata: [{"what":"bins","projectId":"p1"}]')]).toEqual([1, true]);
  reads.destroy();
});

it('more pages than can be told are refused', () => {
  const desk = new NewsDesk(small.house);
  const pages = Array.from({ length: 301 }, () => new Page());
  expect(pages.map((page) => open(desk, page)).filter((taken) => !taken)).toHaveLength(1);
  for (const page of pages) page.destroy();
});
