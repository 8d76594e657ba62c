// Builds everything into dist/: the pages by Astro, then the server's entry and its worker threads by esbuild.
import { build as buildPages } from 'astro';
import { build } from 'esbuild';
import { cpSync, mkdirSync } from 'node:fs';
import { packAssets } from './pack-assets.mjs';

process.env.NODE_ENV = 'production';
await buildPages({ logLevel: 'warn' });
packAssets('dist/client/_astro');
const common = {
  bundle: true,
  platform: 'node',
  format: 'esm',
  target: 'node20',
  // Constants stand where they are used: bundled together they would be variables, looked up at every turn of a loop.
  minifySyntax: true,
  packages: 'external',
  outExtension: { '.js': '.mjs' },
  sourcemap: 'linked',
  logLevel: 'warning',
};
await build({ ...common, entryPoints: { main: 'src/server/main.ts', 'make-demo': 'demo/make-demo.ts' }, outdir: 'dist' });
await build({
  ...common,
  entryPoints: Object.fromEntries(['change', 'copy', 'study', 'zip'].map((name) => [name, `src/server/workers/${name}.worker.ts`])),
  outdir: 'dist/workers',
});
mkdirSync('dist/migrations', { recursive: true });
cpSync('src/server/catalogue/migrations', 'dist/migrations', { recursive: true });
