import type { MqttConnection } from '@wide-ledger/contract';
import type { ReadMessage } from '@wide-ledger/core';
import { caughtOn } from '../brokers/catching.ts';
import { readAll } from '../expressions/expressions.ts';
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
  return readAll(await textsOn(connection, around), connection.payload, connection.expression);
}
