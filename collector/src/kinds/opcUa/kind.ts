/** OPC UA as a kind of source: it tells changes by itself, can be asked, and its tree can be looked through. */
import type { OpcUaConnection } from '@wide-ledger/contract';
import type { Kind } from '../kind.ts';
import { SourceAway } from '../kind.ts';
import { OBJECTS, browseNode } from './browse.ts';
import { whileBrowsing } from './browsing.ts';
import { connect, type Approach } from './connecting.ts';
import { walkPath } from './pathCheck.ts';
import { opcUaLibrary } from './library.ts';
import { offersOf } from './offers.ts';
import { OpcUaReading } from './reading.ts';
import { OpcUaSubscription } from './subscription.ts';

/** What a server says that has no subscriptions. */
const NO_SUBSCRIPTIONS = ['BadServiceUnsupported', 'BadNotSupported', 'BadTooManySubscriptions'];

async function begin(
  approach: Approach,
  acquire: OpcUaConnection['acquire'],
): Promise<OpcUaReading | OpcUaSubscription> {
  if (acquire !== 'subscribe') return new OpcUaReading(approach);
  try {
    return await OpcUaSubscription.begin(approach);
  } catch (error) {
    if (error instanceof SourceAway && NO_SUBSCRIPTIONS.includes(error.code)) return new OpcUaReading(approach);
    throw error;
  }
}

export const opcUa: Kind<'opc-ua'> = {
  check: walkPath,
  offers: ({ connection }) => offersOf(opcUaLibrary(), connection),
  open: async ({ connection }, around) => {
    const approach = await connect(connection, around);
    try {
      const session = await begin(approach, connection.acquire);
      // What is said in the source's name, should it go away the next moment, is stamped by its clock.
      await session.looked;
      return session;
    } catch (error) {
      await approach.close();
      throw error;
    }
  },
  browse: (source, node, around) =>
    whileBrowsing(source.connection, around, (approach) => browseNode(approach, node ?? OBJECTS)),
};
