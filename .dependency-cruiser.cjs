// The arrows between the rooms run one way (CONTRIBUTING.md draws them). Each room may use those before it.
const rooms = ['css', 'model', 'select', 'resolve', 'measure', 'inspect', 'change']
const looking = ['draw', 'reality', 'language']
const outer = ['fonts', 'node', 'lsp', 'cli']

const mayNotReach = (from, to) => ({
  name: `${from}-does-not-reach-${to.join('-')}`,
  severity: 'error',
  from: { path: `^src/${from}/` },
  to: { path: `^src/(${to.join('|')})/` },
})

module.exports = {
  forbidden: [
    ...rooms.map((room, n) => mayNotReach(room, [...rooms.slice(n + 1), ...looking, ...outer])),
    ...looking.map((room) => mayNotReach(room, outer)),
    mayNotReach('draw', ['language']),
    mayNotReach('reality', ['language']),
    mayNotReach('fonts', ['node', 'lsp', 'cli']),
    mayNotReach('node', ['lsp', 'cli']),
    mayNotReach('lsp', ['cli']),
    {
      name: 'observer-stands-alone',
      comment: 'What runs in a page takes nothing along but types.',
      severity: 'error',
      from: { path: '^src/observe/' },
      to: { path: '^src/', pathNot: '^src/(observe|reality|model)/' },
    },
    {
      name: 'core-without-dom',
      severity: 'error',
      from: { path: '^src/', pathNot: '^src/(observe|node|lsp|cli)/' },
      to: { path: '^src/observe/' },
    },
    {
      name: 'host-knows-nothing-of-the-core',
      severity: 'error',
      from: { path: '^examples/host/' },
      to: { path: '^src/' },
    },
    {
      name: 'core-without-node',
      comment: 'The core does no I/O: only src/node, src/lsp and src/cli may import a Node module.',
      severity: 'error',
      from: { path: '^src/', pathNot: '^src/(node|lsp|cli)/' },
      to: { dependencyTypes: ['core'] },
    },
    { name: 'no-circles', severity: 'error', from: { path: '^src/' }, to: { circular: true } },
    {
      name: 'apps-use-the-public-interface',
      severity: 'error',
      from: { path: '^examples/' },
      to: {
        path: '^src/',
        pathNot: '^src/(index|node/index|fonts/index|draw/index|reality/index|language/index)\\.ts$',
      },
    },
  ],
  options: {
    doNotFollow: { path: 'node_modules' },
    tsPreCompilationDeps: true,
    tsConfig: { fileName: 'tsconfig.node.json' },
    enhancedResolveOptions: {
      exportsFields: ['exports'],
      conditionNames: ['import', 'node', 'default'],
      extensions: ['.ts', '.tsx', '.js'],
    },
  },
}
