/** Tags as a collector is told of them, with nothing said but what a test is about. */
import type { ConfiguredTag, SourceAddress } from '@wide-ledger/contract';
import type { SourceOf } from '../src/index.ts';

type Over<Address extends SourceAddress> = Partial<Omit<ConfiguredTag<Address>, 'reading'>> & {
  readonly reading?: Partial<ConfiguredTag<Address>['reading']>;
};

/** A real tag that is read every second, every value kept. */
export const tagAt = <Address extends SourceAddress>(
  id: number,
  address: Address,
  { reading, ...over }: Over<Address> = {},
): ConfiguredTag<Address> => ({
  id,
  name: `T${id}`,
  type: 'real',
  low: null,
  high: null,
  ...over,
  reading: {
    address,
    intervalMilliseconds: 1000,
    aligned: true,
    deadband: { kind: 'none' },
    longestSilenceSeconds: null,
    ...reading,
  },
});

/** A connection to a controller on this machine, without security, by subscription. */
export const opcUaTo = (
  port: number,
  over: Partial<SourceOf<'opc-ua'>['connection']> = {},
): SourceOf<'opc-ua'>['connection'] => ({
  endpoint: `opc.tcp://127.0.0.1:${port}`,
  policy: 'None',
  mode: 'None',
  signIn: 'anonymous',
  user: '',
  password: null,
  trusted: [],
  acquire: 'subscribe',
  publishingMilliseconds: 100,
  queueSize: 20,
  timeoutMilliseconds: 20_000,
  ...over,
});
