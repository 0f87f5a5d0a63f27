/** What lies at addresses of a source at this moment, over a connection of its own: the source need not be in force. */
import type { AddressesAnswer, ConfiguredTag, NewSource, SourceAddress } from '@wide-ledger/contract';
import { SourceAway, toldOf, type Kind, type Sample, type Surroundings } from '../kinds/kind.ts';

type Found = AddressesAnswer['found'][number];

/** As they would be read if they were in force: each by itself, nothing kept. */
const asTags = (addresses: readonly SourceAddress[], type: string): ConfiguredTag[] =>
  addresses.map((address, id) => ({
    id,
    name: String(id),
    type,
    low: null,
    high: null,
    reading: {
      address,
      intervalMilliseconds: 1000,
      aligned: false,
      deadband: { kind: 'none' },
      longestSilenceSeconds: null,
    },
  }));

const foundIn = ({ value, fault }: Sample): Found => ({ value: toldOf(value), trouble: fault?.sentence ?? null });

/**
 * @param type as what the values are taken. @returns in the order of the addresses
 * @throws SourceAway where the source does not answer
 */
export async function lookUp(
  kind: Kind,
  source: NewSource,
  around: Surroundings,
  addresses: readonly SourceAddress[],
  type: string,
): Promise<AddressesAnswer> {
  const tags = asTags(addresses, type);
  const session = await kind.open(source, around);
  try {
    if (session.acquires === 'poll') {
      const samples = new Map((await session.read(tags)).map((sample) => [sample.tag, sample]));
      return {
        found: tags.map(({ id }) => {
          const sample = samples.get(id);
          return sample ? foundIn(sample) : { value: null, trouble: 'Nothing was read.' };
        }),
      };
    }
    if (!session.readNow)
      throw new SourceAway('A source of this kind is not asked for single addresses.', 'NOT_ASKED', 0);
    const found: Found[] = [];
    for (const tag of tags) found.push(foundIn(await session.readNow(tag)));
    return { found };
  } finally {
    session.close();
  }
}
