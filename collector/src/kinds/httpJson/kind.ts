/** JSON over HTTP as a kind of source: it is asked at intervals, and its answers can be looked through. */
import type { BrowsedNode, HttpJsonConnection } from '@wide-ledger/contract';
import type { ReadMessage } from '@wide-ledger/core';
import { readAll } from '../expressions/expressions.ts';
import type { Kind, PolledSession, Surroundings } from '../kind.ts';
import { brokenMessage, fieldsOf, messageOf } from '../messageNodes.ts';
import { walkPath } from './pathCheck.ts';
import { ask, type Answer } from './service.ts';
import { HttpJsonSession } from './session.ts';

export const httpJson: Kind<'http-json', PolledSession<'http-json'>> = {
  check: walkPath,
  open: async ({ connection }, around) => {
    // Who is not let in, or meets nobody, hears it at once.
    await ask(connection, around, connection.requests[0]!, null);
    return new HttpJsonSession(connection, around);
  },
  browse: async ({ connection }, node, around) => {
    if (node !== null) {
      const request = node.slice(0, node.indexOf('#'));
      const read = await messageOfAnswer(connection, request, await ask(connection, around, request, null));
      return { nodes: 'message' in read ? fieldsOf(request, read.message) : [], more: false };
    }
    const nodes: BrowsedNode[] = [];
    for (const [request, answer] of await answersOf(connection, around)) {
      const read = await messageOfAnswer(connection, request, answer);
      nodes.push(
        'message' in read ? messageOf(request, request, read.message) : brokenMessage(request, request, read.trouble),
      );
    }
    return { nodes, more: false };
  },
  messages: async ({ connection }, around) => {
    const answers = await answersOf(connection, around);
    return {
      topics: answers.length,
      messages: answers.flatMap(([topic, answer]) =>
        answer.kind === 'message' ? [{ topic, payload: answer.text }] : [],
      ),
    };
  },
};

/** What is said to each of the requests that are looked through. @throws SourceAway where nobody answers at all. */
async function answersOf(
  connection: HttpJsonConnection,
  around: Surroundings,
): Promise<(readonly [request: string, answer: Answer])[]> {
  return Promise.all(
    connection.requests.map(async (request) => [request, await ask(connection, around, request, null)] as const),
  );
}

async function messageOfAnswer(
  { expression }: HttpJsonConnection,
  request: string,
  answer: Answer,
): Promise<ReadMessage> {
  if (answer.kind !== 'message') return { trouble: answer.kind === 'refused' ? answer.fault.sentence : '' };
  return (await readAll([[request, answer.text]], 'json', expression)).get(request)!;
}
