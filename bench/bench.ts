/** Timings against plain tools in the same run, as ratios. Nothing here passes or fails. */
import { execFileSync } from 'node:child_process';
import { createWriteStream, existsSync, mkdirSync, mkdtempSync, rmSync } from 'node:fs';
import { once } from 'node:events';
import { randomFillSync } from 'node:crypto';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import {
  clipDocument,
  externalReference,
  formatOtio,
  rationalTime,
  timelineDocument,
  timeRange,
  trackDocument,
} from '../src/core/interchange/otio/otio-writer';
import { readOtio } from '../src/core/interchange/otio/otio-reader';
import { collectUses } from '../src/core/project/usage';
import { unite } from '../src/core/time/range';
import { rate } from '../src/core/time/rate';
import { House } from '../src/server/house';
import { registerShelf } from '../src/server/stock/register-shelf';
import { newControl } from '../src/server/workers/control';
import { closeWorkers, runCopy } from '../src/server/workers/pool';

const GIB = 1024 ** 3;
const folder = mkdtempSync(join(process.env.MILL_SHELF_BENCH ?? tmpdir(), 'mill-bench-'));

async function timed<T>(work: () => Promise<T> | T): Promise<{ seconds: number; result: T }> {
  const began = process.hrtime.bigint();
  const result = await work();
  return { seconds: Number(process.hrtime.bigint() - began) / 1e9, result };
}

function median(values: readonly number[]): number {
  return [...values].sort((a, b) => a - b)[Math.floor(values.length / 2)]!;
}

/** Copy, flush, read back and compare, against `cp` and `sha256sum` of both sides. */
async function copyAndVerify(): Promise<void> {
  const source = join(folder, 'source.bin');
  const stream = createWriteStream(source);
  const block = Buffer.alloc(8 * 1024 * 1024);
  for (let bytes = 0; bytes < GIB; bytes += block.length) if (!stream.write(randomFillSync(block))) await once(stream, 'drain');
  stream.end();
  await once(stream, 'close');
  const ratios: number[] = [];
  const ours: number[] = [];
  const plain: number[] = [];
  for (let round = 0; round < 3; round++) {
    const target = join(folder, 'target.bin');
    const own = await timed(() => runCopy({ write: { source, segments: 'all', keepTimes: true }, target, control: newControl() }));
    rmSync(target);
    const tools = await timed(() => {
      execFileSync('cp', [source, target]);
      return execFileSync('sha256sum', [source, target], { encoding: 'utf8' });
    });
    if (!tools.result.startsWith(own.result.sha256)) throw new Error('the checksums differ');
    rmSync(target);
    ours.push(own.seconds);
    plain.push(tools.seconds);
    ratios.push(own.seconds / tools.seconds);
  }
  rmSync(source);
  console.log(
    `copy and verify 1 GiB: ${median(ours).toFixed(2)} s; cp then sha256sum of both: ${median(plain).toFixed(2)} s; ratio ${median(ratios).toFixed(2)}`,
  );
}

/** Stocktake of the demo's drives, each file read anew, against plain ffprobe of the same files one by one. */
async function stocktake(): Promise<void> {
  const drives = join('demo-data', 'bay', 'plugged');
  if (!existsSync(drives)) return console.log('stocktake: no demo data (npm run demo makes it)');
  const copy = join(folder, 'drives');
  execFileSync('cp', ['-r', drives, copy]);
  const house = new House({ dataFolder: join(folder, 'data'), roots: [folder], host: '127.0.0.1', port: 0, bayFolder: null });
  const names = execFileSync('ls', [copy], { encoding: 'utf8' }).trim().split('\n');
  const shelves = names.map((name) => registerShelf(house.catalogue, house.mounts, join(copy, name)));
  const own = await timed(async () => {
    for (const shelf of shelves) {
      house.startStocktake(shelf.id, house.mounts.rootOf(shelf.id)!);
      await house.stocktakes.get(shelf.id)!.done;
    }
  });
  const items = shelves
    .flatMap((shelf) => house.catalogue.items.onShelf(shelf.id))
    .filter((item) => item.facts.kind !== 'other' && item.facts.kind !== 'sequence');
  const plain = await timed(() =>
    items.forEach((item) => execFileSync('ffprobe', ['-v', 'error', '-show_streams', house.mounts.resolve(item.place)], { stdio: 'ignore' })),
  );
  await house.close();
  console.log(
    `stocktake of the demo: ${((own.seconds * 1000) / items.length).toFixed(0)} ms a file over ${items.length} files; plain ffprobe one by one ${((plain.seconds * 1000) / items.length).toFixed(0)} ms; ratio ${(own.seconds / plain.seconds).toFixed(2)}`,
  );
}

/** Reading a timeline and its usage, per event, against JSON.parse of the same text; doubled, to see that it is linear. */
async function timelines(): Promise<void> {
  const pal = rate(25);
  for (const events of [10_000, 20_000, 40_000]) {
    const clips = Array.from({ length: events }, (_, index) =>
      clipDocument(
        `c${index}`,
        timeRange(900_000 + (index % 700), 40, pal),
        externalReference(`/m/c${index % 500}.mov`, '', timeRange(900_000, 1000, pal)),
      ),
    );
    const text = formatOtio(timelineDocument('long', rationalTime(0, pal), [trackDocument('V1', 'Video', clips)]));
    const plain = await timed(() => JSON.parse(text) as unknown);
    const read = await timed(() => readOtio(text, pal));
    const usage = await timed(() => unite(collectUses(read.result.timelines[0]!.timeline, { countDisabled: false }).map((use) => use.source)));
    const perEvent = (seconds: number) => `${((seconds * 1e6) / events).toFixed(2)} µs an event`;
    console.log(
      `${events} events, ${(text.length / 1e6).toFixed(1)} MB: read ${perEvent(read.seconds)}, ${(read.seconds / plain.seconds).toFixed(2)} × JSON.parse; usage ${perEvent(usage.seconds)}`,
    );
  }
}

mkdirSync(folder, { recursive: true });
try {
  await stocktake();
  await timelines();
  await copyAndVerify();
} finally {
  await closeWorkers();
  rmSync(folder, { recursive: true, force: true });
}
