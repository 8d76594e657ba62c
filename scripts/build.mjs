// Builds everything into dist/: the pages by Astro, then the server's entry and its worker threads by esbuild.
import { build as buildPages } from 'astro';
import { build } from 'esbuild';
import { cpSync, mkdirSync } from 'node:fs';
import { basename } from 'node:path';
import { fdir } from 'fdir';
import { packAssets } from './pack-assets.mjs';

process.env.NODE_ENV = 'production';
await buildPages({ logLevel: 'warn' });
packAssets('dist/client/_astro');
/** Worker threads stand in the rooms whose work they do. */
const workers = Object.fromEntries(
  new fdir()
    .withRelativePaths()
    .filter((path) => path.endsWith('.worker.ts'))
    .crawl('src/server')
    .sync()
    .map((path) => [basename(path, '.worker.ts'), `src/server/${path}`]),
);
const common = {
  bundle: true,
  platform: 'node',
  format: 'esm',
  target: 'node20',
  // Constants stand where they are used: bundled together they would be variables, looked up at every turn of a loop.
  minifySyntax: true,
  // Looking for packages file by file took a third of what a thread needs to start. What is compiled, or starts threads, stays outside.
  external: ['better-sqlite3', 'node-av', 'pino', 'tinypool'],
  banner: { js: "import { createRequire as requireFrom } from 'node:module'; const require = requireFrom(import.meta.url);" },
  outExtension: { '.js': '.mjs' },
  sourcemap: 'linked',
  logLevel: 'warning',
};
await build({ ...common, entryPoints: { main: 'src/server/main.ts', 'make-demo': 'demo/make-demo.ts' }, outdir: 'dist' });
await build({
  ...common,
  entryPoints: workers,
  outdir: 'dist/workers',
});
mkdirSync('dist/migrations', { recursive: true });
cpSync('src/server/catalogue/migrations', 'dist/migrations', { recursive: true });
