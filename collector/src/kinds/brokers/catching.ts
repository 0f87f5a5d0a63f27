/** Catching what passes on a broker, for who looks through it: beside the session that records, and under another name. */
import type { BrokerConnection } from '@wide-ledger/contract';
import type { MqttClient } from 'mqtt';
import { randomBytes } from 'node:crypto';
import { setTimeout as wait } from 'node:timers/promises';
import { KeptOpen } from '../keptOpen.ts';
import type { Surroundings } from '../kind.ts';
import { away, connectBroker, placeOf } from './broker.ts';

/** Bytes of a message that is taken apart: what is larger would hold up everything else. */
export const LARGEST_MESSAGE = 1_000_000;
/** So long it is listened before the first answer. Milliseconds. */
const LISTENS = 2500;
/** After the last question. Milliseconds. */
const KEPT = 60_000;
/** What is held of a broker on which there is more: topics, and bytes of their messages. */
const MOST_TOPICS = 20_000;
const MOST_BYTES = 64_000_000;

interface Catcher {
  readonly caught: ReadonlyMap<string, Buffer>;
  readonly client: MqttClient;
  readonly since: number;
}

const catchers = new KeptOpen<Catcher>(KEPT, ({ client }) => void client.end(true));

/** The newest message of each topic, as far as any came. @throws SourceAway */
export const caughtOn = (
  connection: BrokerConnection,
  topics: readonly string[],
  around: Surroundings,
): Promise<ReadonlyMap<string, Buffer>> =>
  catchers.whileOpen(
    JSON.stringify([connection, topics, around.secret(connection.password)]),
    () => begun(connection, topics, around),
    async ({ caught, client, since }) => {
      const left = since + LISTENS - performance.now();
      if (left > 0) await wait(left);
      if (!client.connected) throw away({ code: 'CLOSED' }, placeOf(connection));
      return caught;
    },
  );

async function begun(connection: BrokerConnection, topics: readonly string[], around: Surroundings): Promise<Catcher> {
  const caught = new Map<string, Buffer>();
  let bytes = 0;
  const take = (topic: string, payload: Buffer): void => {
    if (payload.length > LARGEST_MESSAGE) return;
    const before = caught.get(topic);
    if (before === undefined && (caught.size >= MOST_TOPICS || bytes + payload.length > MOST_BYTES)) return;
    bytes += payload.length - (before?.length ?? 0);
    caught.set(topic, payload);
  };
  const part = { name: `wl-${randomBytes(9).toString('hex')}`, keptSeconds: 0 };
  const { client } = await connectBroker(connection, around, part, (made) => made.on('message', take));
  client.on('error', () => undefined);
  try {
    await client.subscribeAsync([...topics], { qos: 0 });
    return { caught, client, since: performance.now() };
  } catch (error) {
    client.end(true);
    throw away(error, placeOf(connection));
  }
}
