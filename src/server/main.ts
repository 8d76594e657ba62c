/** The server's own entry: reads the configuration, opens the house, answers requests, stops cleanly. */
import { createServer } from 'node:http';
import { ConfigError, readConfig, type Config } from './config';
import { refusal } from './guard';
import { CatalogueError, isOutOfRoom } from './catalogue/database';
import { House } from './house';
import { HouseLocked } from './catalogue/house-lock';
import { complaint, runTool } from './media/ffmpeg';

process.env.ASTRO_NODE_AUTOSTART = 'disabled';
process.env.NODE_ENV ??= 'production';

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
    const result = await runTool(tool, ['-version']).catch(() => null);
    if (result?.exitCode !== 0) {
      console.error(
        `${tool} cannot be started${result ? `: ${complaint(result.stderr)}` : ''}. Install it (Debian: apt-get install ffmpeg), then start again.`,
      );
      process.exit(3);
    }
  }
}

const config = configuration();
await needTools();

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

const house = openHouse();
globalThis.millShelfHouse = house;

const entry = new URL('./server/entry.mjs', import.meta.url).href;
const { handler } = (await import(/* @vite-ignore */ entry)) as { handler: (request: unknown, response: unknown) => void };

const server = createServer((request, response) => {
  const refused = refusal(request, config.host);
  if (refused) {
    response.writeHead(403, { 'content-type': 'application/problem+json' });
    response.end(JSON.stringify({ type: 'urn:mill-shelf:refused', title: 'Not allowed', status: 403, code: 'refused', detail: refused }));
    return;
  }
  handler(request, response);
});

server.on('error', (error: NodeJS.ErrnoException) => {
  console.error(error.code === 'EADDRINUSE' ? `Port ${config.port} is taken. Choose another with --port or MILL_SHELF_PORT.` : error.message);
  process.exit(4);
});

server.listen(config.port, config.host, () => {
  const address = server.address();
  const port = typeof address === 'object' && address ? address.port : config.port;
  console.log(`Mill Shelf is open at http://${config.host.includes(':') ? `[${config.host}]` : config.host}:${port}/`);
  house.runner.recover();
});

// A mistake in one request or run must not take the others down with it.
process.on('unhandledRejection', (error) => console.error('A mistake inside was caught', error));

let closing = false;
for (const signal of ['SIGINT', 'SIGTERM'] as const) {
  process.on(signal, () => {
    if (closing) process.exit(1);
    closing = true;
    server.close();
    server.closeAllConnections();
    void house.close().then(() => process.exit(0));
  });
}
