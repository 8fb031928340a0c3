/** Rooms and who may need whom; CONTRIBUTING.md draws it. `.astro` files are held to the same by scripts/check-rooms.mjs. */
const { FEATURES } = require('./scripts/rooms.cjs');

const LAYERS = { model: ['model'], store: ['model', 'store'], server: ['model', 'store', 'server'], view: ['model', 'view'] };

/** A room looks down only: into itself and the rooms that are named. */
const only = (from, allowed, comment) => ({
  name: `${from}-looks-down`,
  comment,
  severity: 'error',
  from: { path: `^src/${from}/` },
  to: { path: '^src/', pathNot: [from, ...allowed].map((room) => `^src/${room}/`) },
});

module.exports = {
  forbidden: [
    { name: 'no-circles', severity: 'error', from: {}, to: { circular: true } },
    { name: 'no-two-folders-need-each-other', severity: 'error', scope: 'folder', from: {}, to: { circular: true } },
    only('core', [], 'the core uses nothing of the others'),
    { name: 'core-is-pure', severity: 'error', from: { path: '^src/core/' }, to: { dependencyTypes: ['core'] } },
    {
      name: 'core-has-no-interface-or-store-package',
      severity: 'error',
      from: { path: '^src/core/' },
      to: { path: 'node_modules', pathNot: 'node_modules/(papaparse|@types/papaparse|delaunator)/' },
    },
    only('rules', ['core'], 'what models share of fields and their rules'),
    only('app', ['rules', 'core'], 'what servers share knows no feature'),
    only('ui', ['rules', 'core'], 'what views share knows no feature'),
    only('simulator', ['core'], 'the simulated rig knows only the core'),
    only('cli', ['simulator', 'core'], 'headless commands need no store'),
    only('agent', ['core'], 'the agent is one file without dependencies'),
    only('features', ['app', 'ui', 'rules', 'core'], 'features know no page, no command and no demo'),
    only('demo', ['simulator', 'features', 'app', 'ui', 'rules', 'core'], 'the demo goes the way of a person'),
    ...FEATURES.map((feature, i) => ({
      name: `${feature}-knows-no-later-feature`,
      comment: `features depend one way: ${FEATURES.join(' ← ')}`,
      severity: 'error',
      from: { path: `^src/features/${feature}/` },
      to: { path: '^src/features/', pathNot: FEATURES.slice(0, i + 1).map((f) => `^src/features/${f}/`) },
    })),
    ...Object.entries(LAYERS).map(([layer, allowed]) => ({
      name: `${layer}-in-its-layer`,
      comment: 'model ← store ← server; a view takes only types from a server',
      severity: 'error',
      from: { path: `^src/features/[^/]+/${layer}/` },
      to: {
        path: '^src/(features/|app/|ui/)',
        pathNot: [
          ...allowed.map((l) => `^src/features/[^/]+/${l}/`),
          ...(layer === 'view' ? ['^src/ui/'] : layer === 'model' ? [] : ['^src/app/']),
        ],
        ...(layer === 'view' ? { dependencyTypesNot: ['type-only'] } : {}),
      },
    })),
    {
      name: 'view-never-touches-the-store',
      severity: 'error',
      from: { path: '^src/features/[^/]+/view/' },
      to: { path: '^src/(features/[^/]+/store|app)/' },
    },
    {
      name: 'pages-leave-the-store-to-the-server',
      severity: 'error',
      from: { path: '^src/pages/' },
      to: { path: '^src/(features/[^/]+/store|cli|simulator)/' },
    },
    { name: 'not-resolvable', severity: 'error', from: {}, to: { couldNotResolve: true, pathNot: '^(astro:|node:)' } },
  ],
  options: {
    doNotFollow: { path: 'node_modules' },
    exclude: { path: '\\.test\\.ts$' },
    tsPreCompilationDeps: true,
    tsConfig: { fileName: 'tsconfig.json' },
    enhancedResolveOptions: {
      extensions: ['.ts', '.tsx', '.mjs', '.js'],
      conditionNames: ['import', 'require', 'node', 'default', 'types'],
      exportsFields: ['exports'],
    },
  },
};
