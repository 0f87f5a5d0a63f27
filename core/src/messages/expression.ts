/**
 * An expression over whole messages, in JSONata: for the odd ones in which no way leads to a value as it stands. What it
 * makes of a message takes the message's place; ways lead into that.
 */
import jsonata from 'jsonata';
import { withoutBigints } from './exactJson.ts';

/** One evaluation may take so many milliseconds, call so deep, and hold a list of so many. */
const LIMITS = { timeout: 500, stack: 200, sequence: 100_000 };

/** What is made of a message that came on a topic (or of the answer to a request). @throws Error with a sentence */
export type MessageExpression = (message: unknown, topic: string) => Promise<unknown>;

interface JsonataTrouble {
  readonly message?: string;
  readonly position?: number;
}

const said = ({ message = 'it cannot be evaluated', position }: JsonataTrouble): string =>
  `${message.replace(/\.$/, '')}${position === undefined ? '' : ` (at character ${position})`}`;

/**
 * Compiles an expression once; the topic is `$topic` in it, and lists of one stay lists where it says `[]`.
 * @throws SyntaxError with a sentence, where it is none
 */
export function readExpression(text: string): MessageExpression {
  let compiled: ReturnType<typeof jsonata>;
  try {
    compiled = jsonata(text, LIMITS);
  } catch (error) {
    throw new SyntaxError(`The expression cannot be read: ${said(error as JsonataTrouble)}.`, { cause: error });
  }
  return async (message, topic) => {
    try {
      return (await compiled.evaluate(withoutBigints(message), { topic })) as unknown;
    } catch (error) {
      throw new Error(`The expression fails on this message: ${said(error as JsonataTrouble)}.`, { cause: error });
    }
  };
}

/** What is wrong with an expression, as a sentence; null: nothing. */
export function expressionProblem(text: string): string | null {
  try {
    readExpression(text);
    return null;
  } catch (error) {
    return (error as Error).message;
  }
}
