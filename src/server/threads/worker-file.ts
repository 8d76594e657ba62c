/** Where the build has put the file of a thread or process. */
import { existsSync } from 'node:fs';
import { resolve } from 'node:path';
import { fileURLToPath } from 'node:url';

export function workerFile(name: string): string {
  const beside = fileURLToPath(new URL(`./workers/${name}.mjs`, import.meta.url));
  return existsSync(beside) ? beside : resolve('dist/workers', `${name}.mjs`);
}
