/** The directions of imports: web → contract → core, server → contract and core, demo → contract and core; the stand-ins know nobody. */
const only = (name, from, allowed) => ({
  name,
  severity: 'error',
  from: { path: `^packages/${from}/` },
  to: { path: '^packages/', pathNot: `^packages/(${[from, ...allowed].join('|')})/` },
})

const stages = 'clients|sources|mapping|settlements|payments|clearing|bank|books|close'
const ground = 'database|access|acts|grants|notes|consents|setup|activity|ledger|composing|course|trace|jobs|files'

module.exports = {
  forbidden: [
    only('core-imports-nothing-of-ours', 'core', []),
    only('contract-imports-core', 'contract', ['core']),
    only('server-imports-contract-and-core', 'server', ['contract', 'core']),
    only('web-imports-contract-and-core', 'web', ['contract', 'core']),
    only('demo-imports-contract', 'demo', ['core', 'contract']),
    only('standins-import-nothing-of-ours', 'standins', []),
    {
      name: 'no-stage-imports-another',
      comment: 'what several stages share stands in ground; what one sets off in another goes through ground',
      severity: 'error',
      from: { path: `^packages/(web|server)/src/(${stages})/`, pathNot: '\\.test\\.tsx?$' },
      to: { path: `^packages/(web|server)/src/(app|${stages})/`, pathNot: '^packages/$1/src/$2/' },
    },
    {
      name: 'ground-imports-no-stage',
      severity: 'error',
      from: { path: `^packages/(web|server)/src/(context|ui|${ground})/`, pathNot: '\\.test\\.tsx?$' },
      to: { path: `^packages/(web|server)/src/(app|${stages})/` },
    },
    {
      name: 'core-is-pure',
      comment: 'no Node, no database, no framework: the core only computes',
      severity: 'error',
      from: { path: '^packages/core/src/', pathNot: '(\\.test\\.ts|/testing/[^/]+)$' },
      to: { path: '.', pathNot: '^packages/core/|node_modules/temporal-(polyfill|utils|spec)' },
    },
    {
      name: 'made-data-only-in-tests',
      comment: 'what is made for tests and the bench is no part of the product',
      severity: 'error',
      from: { pathNot: '(\\.test\\.tsx?$|/testing/|/bench/)' },
      to: { path: '^packages/[^/]+/src/testing/' },
    },
    {
      name: 'no-cycles',
      severity: 'error',
      from: { pathNot: '\\.test\\.tsx?$' },
      to: { circular: true, viaOnly: { dependencyTypesNot: ['type-only'] } },
    },
    {
      name: 'sql-only-in-server',
      severity: 'error',
      from: { path: '^packages/(core|contract|web|standins|demo)/' },
      to: { path: 'node_modules/(pg|drizzle-orm|pg-boss)/' },
    },
  ],
  options: {
    tsConfig: { fileName: 'tsconfig.json' },
    tsPreCompilationDeps: true,
    doNotFollow: { path: 'node_modules' },
    exclude: { path: 'packages/web/dist' },
    enhancedResolveOptions: {
      exportsFields: ['exports'],
      conditionNames: ['import', 'types', 'node', 'default'],
      extensions: ['.ts', '.tsx', '.js', '.mjs', '.json'],
    },
  },
}
