/** The path check of a service: name, port, answer, sign-in, each of its requests, and a first value. */
import type { PathCheck, Rung } from '@wide-ledger/contract';
import { leafAt, leavesOf, messagePathText } from '@wide-ledger/core';
import { walk, type Outcome } from '../../connection/pathWalk.ts';
import { SourceAway, type SourceOf, type Surroundings } from '../kind.ts';
import { knock } from '../knock.ts';
import { resolveName } from '../resolve.ts';
import { ask, placeOf, type Answer } from './service.ts';

/** Codes of a service that is there, and does not let this user in. */
const NOT_LET_IN = ['HTTP_401', 'HTTP_403'];

export function walkPath(
  { connection }: SourceOf<'http-json'>,
  around: Surroundings,
  told: (rung: Rung) => void,
): Promise<PathCheck> {
  const place = placeOf(connection);
  const { base, signIn, user, requests, timeoutMilliseconds } = connection;
  const answers = new Map<string, Answer>();
  let notLetIn: SourceAway | null = null;
  const done = (sentence: string): Outcome => ({ passed: true, sentence });
  return walk(
    [
      ['name', () => resolveName(place.host, place.port)],
      [
        'port',
        async () => (await knock(place, timeoutMilliseconds), done(`${place.host}:${place.port} accepts connections.`)),
      ],
      [
        'answer',
        async () => {
          try {
            for (const request of requests) answers.set(request, await ask(connection, around, request, null));
          } catch (error) {
            if (!(error instanceof SourceAway) || !NOT_LET_IN.includes(error.code)) throw error;
            notLetIn = error;
          }
          const open = base.startsWith('https:') ? '' : ' The line is open: anybody on the way can read what passes.';
          return done(`It speaks HTTP.${open}`);
        },
      ],
      [
        'sign-in',
        () =>
          notLetIn
            ? Promise.reject(notLetIn)
            : Promise.resolve(
                done(signIn === 'none' ? 'Nobody has to sign in.' : `It takes the ${signWords(signIn, user)}.`),
              ),
      ],
      ['browse', () => Promise.resolve(allAnswered(answers))],
      ['value', () => Promise.resolve(firstValue(answers))],
    ],
    told,
  );
}

const signWords = (signIn: string, user: string): string =>
  signIn === 'basic' ? `password of ${user}` : signIn === 'bearer' ? 'token' : `header ${user || 'x-api-key'}`;

function allAnswered(answers: ReadonlyMap<string, Answer>): Outcome {
  for (const answer of answers.values())
    if (answer.kind === 'refused') return { passed: false, sentence: answer.fault.sentence, code: answer.fault.code };
  return {
    passed: true,
    sentence: `${answers.size === 1 ? 'The request is' : `${answers.size} requests are`} answered in JSON.`,
  };
}

function firstValue(answers: ReadonlyMap<string, Answer>): Outcome {
  for (const [request, answer] of answers) {
    const [first] = answer.kind === 'message' ? leavesOf(answer.message) : [];
    if (answer.kind !== 'message' || !first) continue;
    const value = JSON.stringify(leafAt(answer.message, first));
    return { passed: true, sentence: `${request} ${messagePathText(first)}: ${value?.slice(0, 80)}` };
  }
  return { passed: false, sentence: 'The answers are empty. Check the requests.' };
}
