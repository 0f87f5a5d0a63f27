/** Who may know whom: the table of rooms in docs/architecture.md, enforced. */
const only = (from, allowed, comment) => ({
  name: `${from}-imports`,
  comment,
  severity: 'error',
  from: { path: `^${from}/src` },
  to: { path: '^(core|contract|server|collector|bench|web|e2e)/', pathNot: `^(${[from, ...allowed].join('|')})/` },
});

module.exports = {
  forbidden: [
    only('core', [], 'core is pure and knows nobody'),
    only('contract', ['core'], 'the contract speaks in terms of core'),
    only('server', ['core', 'contract'], 'the server knows the contract, not the programs at its other end'),
    only('collector', ['core', 'contract'], 'the collector talks to the server by the contract alone'),
    only('bench', ['core'], 'the plant knows nothing of what observes it'),
    only('web', ['core', 'contract'], 'the interface talks to the server by the contract alone'),
    {
      name: 'core-is-pure',
      comment: 'no Node, no network, no files in core',
      severity: 'error',
      from: { path: '^core/src' },
      to: { dependencyTypes: ['core'] },
    },
    { name: 'no-circles', severity: 'error', from: {}, to: { circular: true } },
    {
      name: 'one-door',
      comment: 'a package is entered through its index; the units have a door of their own, for their library is large',
      severity: 'error',
      from: { path: '^([^/]+)/src' },
      to: { path: '^(core|contract|server|collector|bench)/src/(?!index|computations/units)', pathNot: '^$1/' },
    },
  ],
  options: {
    doNotFollow: { path: 'node_modules' },
    exclude: { path: '(^|/)(dist|test)/' },
    tsPreCompilationDeps: true,
    enhancedResolveOptions: {
      exportsFields: ['exports'],
      conditionNames: ['import', 'default'],
      extensions: ['.ts', '.tsx', '.js'],
    },
  },
};
