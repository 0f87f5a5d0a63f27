import type { MqttConnection } from '@wide-ledger/contract';
import { readMessage, reshapeBy, type ReadMessage } from '@wide-ledger/core';
import { caughtOn } from '../brokers/catching.ts';
import type { Surroundings } from '../kind.ts';

/** The newest message of each topic, as text. @throws SourceAway */
export async function textsOn(connection: MqttConnection, around: Surroundings): Promise<ReadonlyMap<string, string>> {
  const caught = await caughtOn(connection, connection.topics, around);
  return new Map([...caught].map(([topic, payload]) => [topic, payload.toString('utf8')]));
}

/** The same as messages taken apart. @throws SourceAway */
export async function messagesOn(
  connection: MqttConnection,
  around: Surroundings,
): Promise<ReadonlyMap<string, ReadMessage>> {
  const { payload, expression } = connection;
  const reshape = reshapeBy(expression);
  const read = new Map<string, ReadMessage>();
  for (const [topic, text] of await textsOn(connection, around))
    read.set(topic, await readMessage(text, payload, reshape, topic));
  return read;
}
