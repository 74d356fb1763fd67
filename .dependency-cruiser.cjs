/** Imports run one way: core ← formats ← data ← server ← {app, cli}. See docs/architecture.md. */
const only = (name, from, to) => ({
  name,
  severity: 'error',
  from: { path: `^src/${from}/`, pathNot: '\\.test\\.tsx?$' },
  to: { path: '^src/', pathNot: to },
})

module.exports = {
  forbidden: [
    {
      name: 'no-circles',
      severity: 'error',
      from: {},
      to: { circular: true },
    },
    only('core-stands-alone', 'core', '^src/core/'),
    {
      name: 'core-is-pure',
      severity: 'error',
      from: { path: '^src/core/', pathNot: '\\.test\\.ts$' },
      to: { dependencyTypes: ['core'] },
    },
    {
      name: 'core-has-no-interface',
      severity: 'error',
      from: { path: '^src/core/' },
      to: { path: 'node_modules/(react|next|drizzle-orm|pg|@chakra-ui)/' },
    },
    only('formats-use-core', 'formats', '^src/(core|formats)/'),
    only('data-uses-core-and-formats', 'data', '^src/(core|formats|data)/'),
    only('server-uses-data', 'server', '^src/(core|formats|data|server)/'),
    only('collector-knows-no-database', 'collector', '^src/(core|formats|collector)/'),
    only('tag-uses-core', 'tag', '^src/(core/signals/|core/intake/(arrival|routing)|tag/)'),
    only('practice-is-the-outside-world', 'practice', '^src/(core|formats|practice)/'),
    only('cli-is-no-interface', 'cli', '^src/(core|formats|data|server|practice|cli)/'),
    {
      name: 'ui-never-touches-data',
      severity: 'error',
      from: { path: '^src/ui/' },
      to: { path: '^src/(data|formats|cli|collector|practice|app)/' },
    },
    {
      name: 'ui-takes-only-types-of-server',
      severity: 'error',
      from: { path: '^src/ui/' },
      to: { path: '^src/server/', dependencyTypesNot: ['type-only'] },
    },
    {
      name: 'nothing-imports-app',
      severity: 'error',
      from: { pathNot: '^src/app/' },
      to: { path: '^src/app/' },
    },
  ],
  options: {
    doNotFollow: { path: 'node_modules' },
    tsPreCompilationDeps: true,
    tsConfig: { fileName: 'tsconfig.json' },
  },
}
