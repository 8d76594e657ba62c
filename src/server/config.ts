/** Where this instance keeps its data and listens. Flags win over environment variables, those over defaults. */
import { resolve } from 'node:path';
import { parseArgs } from 'node:util';

export interface Config {
  /** Catalogue, posters, last seen mounts. */
  readonly dataFolder: string;
  /** Folders below which shelves may be registered; nothing else is ever read or written. */
  readonly roots: readonly string[];
  readonly host: string;
  readonly port: number;
  /** Folder of the simulated drive bay; null without one. */
  readonly bayFolder: string | null;
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
        port: { type: 'string' },
        bay: { type: 'string' },
      },
    }));
  } catch (error) {
    throw new ConfigError(`${(error as Error).message}. Flags: --data FOLDER --roots FOLDER (repeatable) --host ADDRESS --port NUMBER --bay FOLDER`);
  }
  const port = Number(values.port ?? env.MILL_SHELF_PORT ?? 4780);
  if (!Number.isInteger(port) || port < 0 || port > 65_535)
    throw new ConfigError(`"${values.port ?? env.MILL_SHELF_PORT}" is not a port: a whole number from 0 to 65535`);
  const roots = values.roots ?? (env.MILL_SHELF_ROOTS ? env.MILL_SHELF_ROOTS.split(':') : [env.HOME ?? '.']);
  const bay = values.bay ?? env.MILL_SHELF_BAY ?? null;
  return {
    dataFolder: resolve(values.data ?? env.MILL_SHELF_DATA ?? 'data'),
    roots: roots.filter((root) => root !== '').map((root) => resolve(root)),
    host: values.host ?? env.MILL_SHELF_HOST ?? '127.0.0.1',
    port,
    bayFolder: bay ? resolve(bay) : null,
  };
}
