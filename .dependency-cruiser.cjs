/** Imports point down only: islands → types of core; pages → server/api → server → core. The core is pure. */

/** Rooms of the server from the lowest up, each with those beside it: one knows what is below it, and nothing above. */
const ROOMS = [
  ['log', 'outside', 'threads'],
  ['errors'],
  ['caches', 'catalogue'],
  ['media'],
  ['stock'],
  ['bundles', 'bridges', 'devices', 'uploads'],
  ['files'],
  ['projects'],
  ['actions'],
  ['kinds'],
  ['runs'],
  ['questions'],
  ['usecases', 'automations'],
  ['api', 'watch'],
];
const directions = ROOMS.flatMap((rooms, level) =>
  rooms.map((room) => ({
    name: `server-${room}-knows-nothing-above`,
    severity: 'error',
    from: { path: `^src/server/${room}/`, pathNot: '\\.test\\.ts$' },
    to: {
      path: '^src/server/[^/]+/',
      pathNot: `^src/server/(${[room, ...ROOMS.slice(0, level).flat(), ...(room === 'usecases' ? ['automations'] : [])].join('|')})/`,
    },
  })),
);

module.exports = {
  forbidden: [
    ...directions,
    {
      // The instance itself: whoever acts for it knows it, and what it is made of does not.
      name: 'server-house-is-known-by-those-above-questions',
      severity: 'error',
      from: { path: '^src/server/', pathNot: ['^src/server/(usecases|automations|api|watch)/', '^src/server/[^/]+\\.ts$', '\\.test\\.ts$'] },
      to: { path: '^src/server/house\\.ts$' },
    },
    {
      name: 'server-root-is-main-house-and-config',
      severity: 'error',
      from: {},
      to: { path: '^src/server/[^/]+\\.ts$', pathNot: '^src/server/(main|house|config)\\.ts$' },
    },
    {
      name: 'actions-know-no-other-action-but-what-they-share',
      severity: 'error',
      from: { path: '^src/server/actions/(remove|check|encode|write|link)/' },
      to: { path: '^src/server/actions/(copy|trim|frames|write|check|remove|move|encode|link)/', pathNot: '^src/server/actions/$1/' },
    },
    {
      name: 'core-is-pure',
      severity: 'error',
      from: { path: '^src/core', pathNot: '\\.test\\.ts$' },
      // Exact fractions, CSV, calendar days and the forms of requests, all without disk, clock or screen.
      to: { pathNot: '^src/core|node_modules/(fraction\\.js|papaparse|@types/papaparse|joi|dayjs)/' },
    },
    {
      name: 'islands-reach-no-server-code',
      severity: 'error',
      from: { path: '^src/islands' },
      to: { path: '^src/server', dependencyTypesNot: ['type-only'] },
    },
    { name: 'server-knows-no-screen', severity: 'error', from: { path: '^src/server' }, to: { path: '^src/(islands|pages|layouts|styles)' } },
    {
      name: 'doors-open-on-the-api',
      severity: 'error',
      from: { path: '^src/pages/api' },
      to: { pathNot: '^src/server/api|^astro$|node_modules/astro/' },
    },
    {
      name: 'only-the-catalogue-speaks-sql',
      severity: 'error',
      from: { path: '^src', pathNot: '^src/server/catalogue' },
      to: { path: 'better-sqlite3' },
    },
    {
      name: 'words-know-nothing',
      severity: 'error',
      from: { path: '^src/core/words', pathNot: '\\.test\\.ts$' },
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
