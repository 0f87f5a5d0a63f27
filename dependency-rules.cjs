/** Who may know whom: the table of rooms in docs/architecture.md, enforced. */
const only = (from, allowed, comment) => ({
  name: `${from}-imports`,
  comment,
  severity: 'error',
  from: { path: `^${from}/src` },
  to: {
    path: '^(core|contract|vault|server|collector|bench|web|e2e)/',
    pathNot: `^(${[from, ...allowed].join('|')})/`,
  },
});

/** The wings of the server, in their order: one may import those before it, each by its door. */
const WINGS = ['ground', 'people', 'configuration', 'archive', 'field', 'exchange', 'figures'];

/** The rooms of a wing, in their order: one may import those before it. A room that is not named here may be imported by all. */
const ROOMS = {
  ground: ['settings', 'machine', 'threads', 'json', 'database', 'http', 'jobs', 'documents'],
  people: ['accounts', 'visitors', 'logbook', 'keys', 'sessions', 'guard', 'reader'],
  configuration: [
    'stores',
    'secrets',
    'definitions',
    'catalogue',
    'force',
    'places',
    'tags',
    'versions',
    'drafts',
    'registerMaps',
  ],
  archive: [
    'stores',
    'values',
    'journal',
    'ledger',
    'current',
    'coverage',
    'reading',
    'doubts',
    'quarantine',
    'annotations',
    'modified',
    'keeping',
  ],
  field: ['questions', 'collectors', 'sources', 'backfills', 'operating', 'bench'],
  figures: ['desk', 'metrics'],
};

const wingRules = WINGS.flatMap((wing, place) => [
  {
    name: `wing-${wing}`,
    comment: 'a wing of the server knows the wings before it',
    severity: 'error',
    from: { path: `^server/src/${wing}/` },
    to: { path: `^server/src/(${[...WINGS.slice(place + 1), 'site', 'main', 'index'].join('|')})(/|\\.ts)` },
  },
  {
    name: `door-of-${wing}`,
    comment: 'a wing is entered by its door',
    severity: 'error',
    from: { path: '^server/src/', pathNot: `^server/src/${wing}/` },
    to: { path: `^server/src/${wing}/(?!index\\.ts)` },
  },
]);

const roomRules = Object.entries(ROOMS).flatMap(([wing, rooms]) =>
  rooms.slice(0, -1).map((room, place) => ({
    name: `room-${wing}-${room}`,
    comment: 'a room knows the rooms before it',
    severity: 'error',
    from: { path: `^server/src/${wing}/${room}/` },
    to: { path: `^server/src/${wing}/(${rooms.slice(place + 1).join('|')})/` },
  })),
);

module.exports = {
  forbidden: [
    only('core', [], 'core is pure and knows nobody'),
    only('contract', ['core'], 'the contract speaks in terms of core'),
    only('vault', [], 'secrets at rest need nobody'),
    only('server', ['core', 'contract', 'vault'], 'the server knows the contract, not the programs at its other end'),
    only('collector', ['core', 'contract', 'vault'], 'the collector talks to the server by the contract alone'),
    only('bench', ['core'], 'the plant knows nothing of what observes it'),
    only('web', ['core', 'contract'], 'the interface talks to the server by the contract alone'),
    {
      name: 'core-is-pure',
      comment: 'no Node, no network, no files in core',
      severity: 'error',
      from: { path: '^core/src' },
      to: { dependencyTypes: ['core'] },
    },
    ...wingRules,
    ...roomRules,
    { name: 'no-circles', severity: 'error', from: {}, to: { circular: true } },
    {
      name: 'one-door',
      comment: 'a package is entered through its index; the units have a door of their own, for their library is large',
      severity: 'error',
      from: { path: '^([^/]+)/src' },
      to: { path: '^(core|contract|vault|server|collector|bench)/src/(?!index|units)', pathNot: '^$1/' },
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
