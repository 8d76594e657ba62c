/** Imports point down only: islands → types of core; pages → server/api → server → core. The core is pure. */
module.exports = {
  forbidden: [
    {
      name: 'core-is-pure',
      severity: 'error',
      from: { path: '^src/core', pathNot: '\\.test\\.ts$' },
      // Exact fractions and CSV, both without disk, clock or screen.
      to: { pathNot: '^src/core|node_modules/(fraction\\.js|papaparse|@types/papaparse)/' },
    },
    {
      name: 'islands-reach-no-server-code',
      severity: 'error',
      from: { path: '^src/islands' },
      to: { path: '^src/server', dependencyTypesNot: ['type-only'] },
    },
    { name: 'server-knows-no-screen', severity: 'error', from: { path: '^src/server' }, to: { path: '^src/(islands|pages|layouts|styles)' } },
    { name: 'doors-open-on-the-api', severity: 'error', from: { path: '^src/pages/api' }, to: { pathNot: '^src/server/api' } },
    {
      name: 'only-the-catalogue-speaks-sql',
      severity: 'error',
      from: { path: '^src', pathNot: '^src/server/catalogue' },
      to: { path: 'better-sqlite3' },
    },
    { name: 'no-circles', severity: 'error', from: {}, to: { circular: true, viaOnly: { dependencyTypesNot: ['type-only'] } } },
  ],
  options: { tsConfig: { fileName: 'tsconfig.json' }, tsPreCompilationDeps: true, doNotFollow: { path: 'node_modules' } },
};
