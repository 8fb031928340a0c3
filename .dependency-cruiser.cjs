/** Dependencies point one way: islands, pages, cli → server → db; everything may use domain; domain and all else may use core; core uses nothing. */
const only = (from, allowed, comment) => ({
  name: `${from}-looks-down`,
  comment,
  severity: 'error',
  from: { path: `^src/${from}/` },
  to: { path: '^src/', pathNot: [from, ...allowed].map((folder) => `^src/${folder}/`) },
});

module.exports = {
  forbidden: [
    { name: 'no-circles', severity: 'error', from: {}, to: { circular: true } },
    only('core', [], 'the core uses nothing of the others'),
    { name: 'core-is-pure', severity: 'error', from: { path: '^src/core/' }, to: { dependencyTypes: ['core'] } },
    {
      name: 'core-has-no-interface-or-store-package',
      severity: 'error',
      from: { path: '^src/core/' },
      to: { path: 'node_modules', pathNot: 'node_modules/(@stdlib|papaparse|@types/papaparse|delaunator)/' },
    },
    only('domain', ['core'], 'nouns know only the core'),
    only('db', ['domain', 'core'], 'the store knows nouns and core'),
    only('bench-sim', ['core'], 'the simulated rig knows only the core'),
    only('demo', ['bench-sim', 'server', 'db', 'domain', 'core'], 'the demo goes the way of a person'),
    only('server', ['demo', 'db', 'domain', 'core'], 'use cases know no page and no island; only the launcher knows the demo'),
    only('ui', ['domain', 'core'], 'shared pieces know no place'),
    only('workers', ['domain', 'core'], 'web workers compute with the core'),
    only('cli', ['bench-sim', 'domain', 'core'], 'headless commands need no store'),
    {
      name: 'islands-ask-the-server',
      comment: 'islands reach the server through its endpoints; they may share its types',
      severity: 'error',
      from: { path: '^src/islands/' },
      to: { path: '^src/(server|db|demo|cli|pages)/', dependencyTypesNot: ['type-only'] },
    },
    { name: 'pages-leave-the-store-to-the-server', severity: 'error', from: { path: '^src/(pages|layouts)/' }, to: { path: '^src/(db|demo|cli|bench-sim)/' } },
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
