/** The path check of a broker, with a first message. */
import type { PathCheck, Rung } from '@wide-ledger/contract';
import type { Outcome } from '../../connection/pathWalk.ts';
import { walkToBroker } from '../brokers/pathCheck.ts';
import type { SourceOf, Surroundings } from '../kind.ts';
import { textsOn } from './caught.ts';

export const walkPath = (
  { connection }: SourceOf<'mqtt'>,
  around: Surroundings,
  told: (rung: Rung) => void,
): Promise<PathCheck> =>
  walkToBroker(connection, connection.topics, () => textsOn(connection, around), firstMessage, told);

function firstMessage(caught: ReadonlyMap<string, string>): Outcome {
  const [first] = caught;
  if (!first)
    return {
      passed: true,
      sentence: 'No message came while it was listened. That is well where they are rare; else check the topics.',
    };
  const [topic, payload] = first;
  const others = caught.size === 1 ? '' : `, and messages of ${caught.size - 1} topics more`;
  return { passed: true, sentence: `${topic}: ${payload.slice(0, 80)}${others}` };
}
