/** A collector looked at as a source: its tree, its figures, the path to it. */
import {
  ARRIVAL_FIGURES,
  LINK_FIGURES,
  OWN_FIGURES,
  SOURCE_FIGURES,
  addressFits,
  addressOfNode,
  nodeOf,
  type SourceState,
} from '@wide-ledger/contract';
import { clockAhead, Status } from '@wide-ledger/core';
import { kindOf, type Account, type Surroundings } from '../../src/index.ts';
import { ALONE } from '../alone.ts';
import { tagAt } from '../tags.ts';

const source = (over: Partial<SourceState> = {}): SourceState => ({
  source: 3,
  state: 'watching',
  since: 0,
  sentence: '',
  code: null,
  valuesPerSecond: 4,
  keptPerSecond: 1,
  timing: {},
  clockSkewMilliseconds: null,
  traffic: null,
  troubles: [],
  facts: [],
  way: null,
  faultyTags: 0,
  recovery: null,
  ...over,
});

const account = (over: Partial<Account['report']> = {}, server: Account['server'] = null): Account => ({
  report: {
    name: 'east',
    version: 5,
    startedAt: 0,
    spooledEntries: 1,
    spooledSamples: 40,
    putAwayEntries: 0,
    spoolFreeBytes: null,
    spoolBytesPerSample: null,
    trouble: null,
    valuesPerSecond: 4,
    sources: [source()],
    ...over,
  },
  server,
  names: new Map([[3, 'Kilnbank']]),
});

const around = (of: Account): Surroundings => ({ ...ALONE, account: () => Promise.resolve(of) });
const itself = kindOf({ kind: 'collector' })!;
const asked = (collector?: string) =>
  ({ name: 'Itself', kind: 'collector', connection: {}, ...(collector ? { collector } : {}) }) as never;

/** Values of figures, by their addresses. */
async function read(of: Account, ...addresses: object[]) {
  const session = await itself.open(asked(), around(of));
  if (session.acquires !== 'poll') throw new Error('it is asked');
  const samples = await session.read(addresses.map((address, i) => tagAt(i, address as never)));
  return samples.map(({ value, status }) => (status === Status.Good ? value : status));
}

const links = [
  {
    kind: 'link',
    id: 3,
    name: 'Region',
    figures: { state: 4, waiting: 7, lag: 0.5, values: 90, bytes: 100, 'set-aside': 2 },
  },
  { kind: 'arrival', id: 3, name: 'North', figures: { state: 2, silence: 61, received: 1e6, 'set-aside': 0 } },
] as const;
const heardAt = (at: number): Account['server'] => ({ at, clock: null, archiveFreeBytes: null, links });

test('every figure in its tree has an address of its kind, and the address leads back to it', async () => {
  const of = around(account({}, heardAt(performance.now())));
  const root = await itself.browse!(asked(), null, of);
  expect(root.nodes.map(({ name, hasBelow, type }) => [name, hasBelow, type])).toEqual([
    ['east', true, null],
    ['Kilnbank', true, null],
    ['Region', true, null],
    ['North', true, null],
  ]);
  const below = await Promise.all(root.nodes.map(({ node }) => itself.browse!(asked(), node, of)));
  expect(below.map(({ nodes }) => nodes.map(({ name }) => name))).toEqual([
    Object.keys(OWN_FIGURES),
    Object.keys(SOURCE_FIGURES),
    Object.keys(LINK_FIGURES),
    Object.keys(ARRIVAL_FIGURES),
  ]);
  for (const { node } of below.flatMap(({ nodes }) => nodes)) {
    const address = addressOfNode('collector', node, '');
    expect(addressFits('collector', address)).toBe(true);
    expect(nodeOf(address)).toBe(node);
  }
  const state = below[1]!.nodes.find(({ name }) => name === 'state')!;
  expect([state.type, state.value, state.states]).toEqual([
    'state',
    'watching',
    { 0: 'connecting', 1: 'watching', 2: 'away' },
  ]);
});

test('links are told of as long as the server is heard: their figures are those of the link that is named', async () => {
  const asked = [
    { figure: 'lag', link: 3 },
    { figure: 'state', arrival: 3 },
    { figure: 'waiting', link: 4 },
  ];
  expect(await read(account({}, heardAt(performance.now())), ...asked)).toEqual([0.5, 2, Status.BadNodeIdUnknown]);
  expect(await read(account({}, heardAt(performance.now() - 11_000)), asked[0]!)).toEqual([Status.BadNoData]);
  expect(await read(account(), asked[0]!)).toEqual([Status.BadNodeIdUnknown]);
});

test.each([
  { figure: 'waiting', source: 3 },
  { figure: 'lag', source: 3 },
  { figure: 'state', link: 1, arrival: 1 },
  { figure: 'clock' },
  { figure: 'mood' },
  { figure: 'late', source: 0 },
])('%j is no address in a collector', (address) => expect(addressFits('collector', address)).toBe(false));

test('its state says the worst, and what is not known is no value rather than nought', async () => {
  const states = [{ figure: 'state' }, { figure: 'away' }, { figure: 'late' }, { figure: 'spool-free' }];
  expect(await read(account(), ...states)).toEqual([2, 0, Status.BadNoData, Status.BadNoData]);
  const late = { reads: 9, jitterMedian: 1, jitter99: 30, durationMedian: 2, duration99: 8, missed: 0 };
  const sources = [
    source({ state: 'away', timing: { '1000 ms': late, '10000 ms': { ...late, jitter99: 70, duration99: 5 } } }),
    source({ source: 4, timing: { '1000 ms': { ...late, jitter99: 50 } } }),
  ];
  expect(await read(account({ sources, spoolFreeBytes: 3e9 }), ...states)).toEqual([1, 1, 70, 3]);
  expect(await read(account({ sources, trouble: 'The disk is full.' }), { figure: 'state' })).toEqual([0]);
  expect(
    await read(
      account({ sources }),
      { figure: 'answer', source: 3 },
      { figure: 'state', source: 3 },
      { figure: 'state', source: 9 },
    ),
  ).toEqual([8, 2, Status.BadNodeIdUnknown]);
});

test('how long the server is silent grows with time, also while it does not answer', async () => {
  const server = heardAt(performance.now() - 90_000);
  const [contact, clock] = await read(account({}, server), { figure: 'contact' }, { figure: 'server-clock' });
  expect(contact as number).toBeGreaterThanOrEqual(90);
  expect(clock).toBe(Status.BadNoData);
  // The server looked at its clock half-way: asked at 1,000, answered 40 later, its clock 5 s ahead.
  expect(clockAhead(6020, 1000, 1040)).toBe(5000);
});

test('the path to it ends where another collector answers than the one that is meant', async () => {
  const walk = async (collector?: string) => {
    const { rungs } = await itself.check(asked(collector), around(account()), () => undefined);
    return rungs.map(({ outcome, sentence }) => [outcome, sentence]);
  };
  expect(await walk('east')).toEqual([
    ['passed', 'east is here.'],
    ['passed', 'It reads one source, and 40 values wait with it.'],
  ]);
  expect((await walk('west'))[0]).toEqual(['failed', 'This is east, not west. Name the collector that is meant.']);
});
