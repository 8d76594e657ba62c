/** Imports point down only: islands → types of core; pages → server/api → server → core. The core is pure. */
module.exports = {
  forbidden: [
    {
      name: 'core-is-pure',
      severity: 'error',
      from: { path: '^src/core', pathNot: '\\.test\\.ts$' },
      // Exact fractions, CSV and the forms of requests, all without disk, clock or screen.
      to: { pathNot: '^src/core|node_modules/(fraction\\.js|papaparse|@types/papaparse|joi)/' },
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
    {
      name: 'words-know-nothing',
      severity: 'error',
      from: { path: '^src/core/words' },
      to: { pathNot: '^src/core/words' },
    },
    {
      name: 'nothing-of-core-below-planning-knows-it',
      severity: 'error',
      from: { path: '^src/core', pathNot: ['^src/core/(planning|usage)', '\\.test\\.ts$'] },
      to: { path: '^src/core/(planning|usage)' },
    },
    {
      name: 'what-kinds-share-knows-no-kind',
      severity: 'error',
      from: { path: '^src/core/planning/(plan|taking|package|evidence)/', pathNot: '\\.test\\.ts$' },
      to: { path: '^src/core/planning/', pathNot: '^src/core/planning/(plan|taking|package|evidence)/' },
    },
    {
      name: 'kinds-know-no-other-kind',
      severity: 'error',
      from: { path: '^src/core/planning/([^/]+)/', pathNot: ['^src/core/planning/(plan|taking|package|evidence)/', '\\.test\\.ts$'] },
      to: { path: '^src/core/planning/', pathNot: '^src/core/planning/($1|plan|taking|package|evidence)/' },
    },
    {
      name: 'kinds-on-the-server-know-no-other-kind',
      severity: 'error',
      from: { path: '^src/server/kinds/([^/]+)/', pathNot: '\\.test\\.ts$' },
      to: { path: '^src/server/kinds/[^/]+/', pathNot: '^src/server/kinds/($1|adopt)/' },
    },
    { name: 'no-circles', severity: 'error', from: {}, to: { circular: true } },
  ],
  options: { tsConfig: { fileName: 'tsconfig.json' }, tsPreCompilationDeps: true, doNotFollow: { path: 'node_modules' } },
};
