/**
 * Expressions over messages, evaluated in a process of their own with limits of time and memory. JSONata looks at its own
 * limit of time between two steps only: one regular expression can take minutes, and one list all the memory there is. A
 * thread is not enough: some strings that are too long end the whole process at once.
 */
import { readAs, withoutBigints, type PayloadForm, type ReadMessage, type Reshape } from '@wide-ledger/core';
import { fork, type ChildProcess } from 'node:child_process';
import { fileURLToPath } from 'node:url';
import type { Asked, Made } from './expressionProcess.ts';

/** Well above what the expression's own limit allows, so that a machine without time is not taken for a bad expression. */
const MILLISECONDS = 3_000;
const MEGABYTES = 96;

/** Beside the collector's own bundle; in tests, where that is made. */
const PROGRAM = fileURLToPath(
  new URL(import.meta.url.endsWith('.ts') ? '../../../dist/expressions.mjs' : './expressions.mjs', import.meta.url),
);

/** Expressions that broke a limit, with what is said of them: they are not used again by this process. */
const broken = new Map<string, string>();

/** Evaluates one message at a time. */
class Evaluator {
  private child: ChildProcess | null = null;

  evaluate(asked: Asked, milliseconds: number): Promise<Made> {
    const child = (this.child ??= this.open());
    return new Promise((done) => {
      const settle = (made: Made): void => {
        clearTimeout(timer);
        child.removeAllListeners('message').removeAllListeners('exit');
        done(made);
      };
      const end = (why: string): void => {
        this.child = null;
        const sentence = `The expression ${why}. It is switched off until it is changed or the collector restarts.`;
        broken.set(asked.expression, sentence);
        child.kill('SIGKILL');
        settle({ trouble: sentence });
      };
      const timer = setTimeout(() => end(`took longer than ${milliseconds / 1000} s for one message`), milliseconds);
      child.once('message', (made: Made) => settle(made));
      child.once('exit', () => end(`took more than the ${MEGABYTES} MB of memory that it may have for one message`));
      child.send(asked);
    });
  }

  private open(): ChildProcess {
    const child = fork(PROGRAM, [], {
      // The collector's own options are not for it.
      execArgv: [`--max-old-space-size=${MEGABYTES}`],
      env: {},
      stdio: ['ignore', 'ignore', 'ignore', 'ipc'],
      serialization: 'json',
    });
    child.on('error', () => undefined);
    child.unref();
    child.channel?.unref();
    return child;
  }

  close(): void {
    this.child?.kill('SIGKILL');
    this.child = null;
  }
}

/** What an expression makes of messages, one after the other, in their order. */
export interface Reshaping {
  readonly reshape: Reshape;
  close(): void;
}

/** @param expression empty: messages are taken as they are, and this is null. */
export function reshapingBy(expression: string, milliseconds = MILLISECONDS): Reshaping | null {
  if (expression.trim() === '') return null;
  const evaluator = new Evaluator();
  let last: Promise<unknown> = Promise.resolve();
  const reshape: Reshape = (read, of) => {
    if ('trouble' in read) return Promise.resolve(read);
    const made = last.then((): Promise<ReadMessage> | ReadMessage => {
      const sentence = broken.get(expression);
      if (sentence !== undefined) return { trouble: sentence };
      return evaluator.evaluate({ expression, message: withoutBigints(read.message), of }, milliseconds);
    });
    last = made.catch(() => undefined);
    return made;
  };
  return { reshape, close: () => evaluator.close() };
}

/** Messages as somebody looks at them: each read by its form, then reshaped where there is an expression. */
export async function readAll(
  messages: Iterable<readonly [of: string, text: string]>,
  form: PayloadForm,
  expression: string,
): Promise<Map<string, ReadMessage>> {
  const reshaping = reshapingBy(expression);
  const read = new Map<string, ReadMessage>();
  try {
    for (const [of, text] of messages) {
      const plain = readAs(text, form);
      read.set(of, reshaping ? await reshaping.reshape(plain, of) : plain);
    }
    return read;
  } finally {
    reshaping?.close();
  }
}
