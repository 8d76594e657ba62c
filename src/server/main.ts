/** The server's own entry: reads the configuration, opens the house, answers requests, stops cleanly. */
import { mkdirSync, rmSync, writeFileSync } from 'node:fs';
import { createServer } from 'node:http';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { ConfigError, PROCESS_NAME, readConfig, type Config } from './config';
import { openDoor, type Handler } from './api/door';
import { makeWishedProxies } from './automations/after-stocktake';
import { noteFault } from './errors/fault';
import { log } from './log/log';
import { isOutOfRoom } from './errors/storage-errors';
import { CatalogueError } from './catalogue/database';
import { House } from './house';
import { ShelfWatch } from './watch/shelf-watch';
import { HouseLocked } from './catalogue/house-lock';
import { complaint, runTool } from './media/ffmpeg';

process.env.ASTRO_NODE_AUTOSTART = 'disabled';
process.env.NODE_ENV ??= 'production';
// By this name another instance is known in the list of processes.
process.title = PROCESS_NAME;

function configuration(): Config {
  try {
    return readConfig(process.argv.slice(2), process.env);
  } catch (error) {
    if (!(error instanceof ConfigError)) throw error;
    console.error(error.message);
    process.exit(2);
  }
}

async function needTools(): Promise<void> {
  for (const tool of ['ffmpeg', 'ffprobe'] as const) {
    const result = await runTool(tool, ['-version'], { timeLimitMs: 20_000 });
    if (result.exitCode !== 0) {
      console.error(`${tool} cannot be started: ${complaint(result.stderr)}. Install it (Debian: apt-get install ffmpeg), then start again.`);
      process.exit(3);
    }
  }
}

const config = configuration();
await needTools();
if (config.checkOnly) await checkPort();

/** Whether the port is free; ends the process with what is to say. */
function checkPort(): Promise<never> {
  const probe = createServer();
  probe.on('error', cannotListen);
  return new Promise(() => probe.listen(config.port, config.host, () => process.exit(0)));
}

function cannotListen(error: NodeJS.ErrnoException): void {
  const taken = `Port ${config.port} is taken. Choose another with --port or MILL_SHELF_PORT.`;
  const foreign = `${config.host} is no address of this machine. Choose another with --host.`;
  console.error(error.code === 'EADDRINUSE' ? taken : error.code === 'EADDRNOTAVAIL' || error.code === 'ENOTFOUND' ? foreign : error.message);
  process.exit(4);
}

/** Says beside the build that it is in use, so that a set-up does not replace it under this process. */
function noteInUse(): void {
  const folder = fileURLToPath(new URL('./.in-use/', import.meta.url));
  const note = join(folder, String(process.pid));
  try {
    mkdirSync(folder, { recursive: true });
    writeFileSync(note, '');
    process.on('exit', () => rmSync(note, { force: true }));
  } catch {
    // A checkout that cannot be written to is not built anew either.
  }
}

function openHouse(): House {
  try {
    return new House(config);
  } catch (error) {
    const known = error instanceof HouseLocked || error instanceof CatalogueError;
    const noRoom = isOutOfRoom(error) || /^SQLITE_CANTOPEN|^E(NOSPC|ACCES|ROFS)/.test((error as { code?: string }).code ?? '');
    if (!known && !noRoom) throw error;
    console.error(
      known
        ? error.message
        : `The catalogue in ${config.dataFolder} cannot be opened: ${(error as Error).message}. Look whether its disk is full or read-only, or choose another folder with --data.`,
    );
    process.exit(5);
  }
}

log.level = config.logLevel;
const house = openHouse();
// Nobody waits for it: the stocktake is over.
house.news.on('stocked', () => void makeWishedProxies(house));
noteInUse();
globalThis.millShelfHouse = house;

const entry = new URL('./server/entry.mjs', import.meta.url).href;
const { handler } = (await import(/* @vite-ignore */ entry)) as { handler: Handler };

let shelfWatch: ShelfWatch | null = null;
const door = openDoor(house, config, handler);
const server = createServer(door.answer);
// A request that comes in drop by drop holds nothing up for long.
server.headersTimeout = 20_000;
server.requestTimeout = 600_000;

server.on('error', cannotListen);

server.listen(config.port, config.host, () => {
  const address = server.address();
  const port = typeof address === 'object' && address ? address.port : config.port;
  console.log(`Mill Shelf is open at http://${config.host.includes(':') ? `[${config.host}]` : config.host}:${port}/`);
  if (house.copiedFrom !== null)
    console.log(`This catalogue was started before ${house.copiedFrom}. Runs that were going on are held: look at them under Runs.`);
  log.info({ port, data: config.dataFolder }, 'open');
  house.runner.recover(house.copiedFrom);
  house.noteHouse();
  if (config.watch) shelfWatch = new ShelfWatch(house);
  // Whoever opens the list first finds it read.
  void house.study({ ask: 'projects' }).catch(() => undefined);
  void house.study({ ask: 'shelves' }).catch(() => undefined);
});

// A mistake in one request or run must not take the others down with it.
process.on('unhandledRejection', (error) => noteFault(error));

let closing = false;
for (const signal of ['SIGINT', 'SIGTERM'] as const) {
  process.on(signal, () => {
    if (closing) process.exit(1);
    closing = true;
    log.info({ signal }, 'closing');
    door.close();
    shelfWatch?.close();
    server.close();
    server.closeAllConnections();
    // A thread that waits for a drive that does not answer cannot be ended by kinder means.
    void house.close().then((isEnded) => (isEnded ? process.exit(0) : process.kill(process.pid, 'SIGKILL')));
  });
}
