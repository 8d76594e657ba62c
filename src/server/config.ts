/** Where this instance keeps its data and listens. Flags win over environment variables, those over defaults. */
import { existsSync } from 'node:fs';
import { join, resolve } from 'node:path';
import { parseArgs } from 'node:util';
import { LOG_LEVELS, type LogLevel } from './log/log';

export interface Config {
  /** Catalogue, posters, last seen mounts. */
  readonly dataFolder: string;
  /** Folders below which shelves may be registered; nothing else is ever read or written. */
  readonly roots: readonly string[];
  readonly host: string;
  /** Further names this server answers for, beside addresses and localhost. */
  readonly names: readonly string[];
  readonly port: number;
  /** Folder of the simulated drive bay; null without one. */
  readonly bayFolder: string | null;
  readonly logLevel: LogLevel;
  /** Shelves are looked through by themselves when something on them is another. */
  readonly watch: boolean;
  /** Only see whether it could start: flags, tools and port. */
  readonly checkOnly: boolean;
}

/** As the list of processes shows it. */
export const PROCESS_NAME = 'mill-shelf';

/** Of an instance that keeps all it has below one folder, and listens nowhere in particular: what is made by scripts. */
export function configBelow(folder: string, logLevel: LogLevel): Config {
  return {
    dataFolder: join(folder, 'data'),
    roots: [folder],
    host: '127.0.0.1',
    names: [],
    port: 0,
    checkOnly: false,
    logLevel,
    bayFolder: null,
    watch: false,
  };
}

export class ConfigError extends Error {}

/** Throws ConfigError with a sentence for a flag or value that cannot be used. */
export function readConfig(args: readonly string[], env: NodeJS.ProcessEnv): Config {
  let values;
  try {
    ({ values } = parseArgs({
      args: [...args],
      options: {
        data: { type: 'string' },
        roots: { type: 'string', multiple: true },
        host: { type: 'string' },
        name: { type: 'string', multiple: true },
        port: { type: 'string' },
        bay: { type: 'string' },
        'log-level': { type: 'string' },
        watch: { type: 'string' },
        check: { type: 'boolean' },
      },
    }));
  } catch (error) {
    throw new ConfigError(
      `${(error as Error).message}. Flags: --data FOLDER --roots FOLDER (repeatable) --host ADDRESS --name NAME (repeatable) --port NUMBER --bay FOLDER --log-level LEVEL --watch on|off --check`,
    );
  }
  for (const [flag, value] of Object.entries(values)) if ([value].flat().includes('')) throw new ConfigError(`--${flag} needs a value: it is empty.`);
  const asked = values.port ?? (env.MILL_SHELF_PORT || '4780');
  const port = /^\d{1,5}$/.test(asked) ? Number(asked) : NaN;
  if (!(port <= 65_535)) throw new ConfigError(`"${asked}" is not a port: a whole number from 0 to 65535`);
  const host = (values.host ?? (env.MILL_SHELF_HOST || '127.0.0.1')).replace(/^\[(.*)\]$/, '$1');
  const names = values.name ?? (env.MILL_SHELF_NAMES ? env.MILL_SHELF_NAMES.split(',') : []);
  const roots = values.roots ?? (env.MILL_SHELF_ROOTS ? env.MILL_SHELF_ROOTS.split(':') : usualRoots(env));
  const logLevel = values['log-level'] ?? (env.MILL_SHELF_LOG_LEVEL || 'warn');
  if (!isLogLevel(logLevel)) throw new ConfigError(`"${logLevel}" is no level of the log: one of ${LOG_LEVELS.join(', ')}.`);
  const watch = values.watch ?? (env.MILL_SHELF_WATCH || 'on');
  if (watch !== 'on' && watch !== 'off') throw new ConfigError(`"${watch}" says not whether shelves are watched: on or off.`);
  const bay = values.bay ?? (env.MILL_SHELF_BAY || null);
  return {
    dataFolder: resolve(values.data ?? (env.MILL_SHELF_DATA || 'data')),
    roots: roots.filter((root) => root !== '').map((root) => resolve(root)),
    host: host.toLowerCase(),
    names: names.map((name) => name.trim().toLowerCase()).filter((name) => name !== ''),
    port,
    bayFolder: bay ? resolve(bay) : null,
    logLevel,
    watch: watch === 'on',
    checkOnly: values.check ?? false,
  };
}

/** The home of the user, and where systems mount drives. */
function usualRoots({ HOME, USER }: NodeJS.ProcessEnv): string[] {
  const mounting = ['/media', '/mnt', '/Volumes', ...(USER ? [`/run/media/${USER}`] : [])];
  return [HOME ?? '.', ...mounting.filter((folder) => existsSync(folder))];
}

function isLogLevel(text: string): text is LogLevel {
  return (LOG_LEVELS as readonly string[]).includes(text);
}
