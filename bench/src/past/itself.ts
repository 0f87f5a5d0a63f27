/** The demo's collector as a source of its own: what it says about itself is kept as tags. */

/** The source as the server takes it. @param collector its name. */
export const itselfSource = (collector: string): object => ({
  name: collector,
  kind: 'collector',
  collector,
  connection: {},
});

interface Figure {
  readonly name: string;
  readonly type: 'real' | 'integer' | 'state';
  readonly unit: string;
  readonly description: string;
  readonly address: { readonly figure: string; readonly source?: number };
  readonly states?: Readonly<Record<string, string>>;
}

const FIGURES: readonly Figure[] = [
  {
    name: 'state',
    type: 'state',
    unit: '',
    description: 'state',
    address: { figure: 'state' },
    states: { 0: 'in trouble', 1: 'a source is away', 2: 'all is well' },
  },
  {
    name: 'waiting',
    type: 'integer',
    unit: '',
    description: 'values not delivered yet',
    address: { figure: 'waiting' },
  },
  { name: 'late', type: 'real', unit: 'ms', description: 'lateness of its reads', address: { figure: 'late' } },
  { name: 'processor', type: 'real', unit: '%', description: 'share of one core', address: { figure: 'processor' } },
  {
    name: 'archive-free',
    type: 'real',
    unit: 'GB',
    description: 'free space where the archive is',
    address: { figure: 'archive-free' },
  },
];

/** Its figures as tags. */
export const itselfTags = (collector: string): object[] =>
  FIGURES.map(({ name, description, address, ...rest }) => ({
    ...rest,
    name: `${collector}.${name}`,
    description: `collector, ${description}`,
    place: 'Wide Ledger',
    collection: {
      source: collector,
      address,
      intervalMilliseconds: 5000,
      aligned: true,
      deadband: { kind: 'none' },
      longestSilenceSeconds: 60,
    },
  }));
