/** The process in which expressions over messages are evaluated: it may be ended, the collector may not. */
import { readExpression, type MessageExpression } from '@wide-ledger/core';

export interface Asked {
  readonly expression: string;
  readonly message: unknown;
  readonly of: string;
}
export type Made = { readonly message: unknown } | { readonly trouble: string };

const known = new Map<string, MessageExpression>();

async function make({ expression, message, of }: Asked): Promise<Made> {
  try {
    const evaluate = known.get(expression) ?? readExpression(expression);
    known.set(expression, evaluate);
    const made = JSON.stringify(await evaluate(message, of));
    // What is not data, such as a function, is not there.
    return { message: made === undefined ? undefined : (JSON.parse(made) as unknown) };
  } catch (error) {
    return { trouble: (error as Error).message };
  }
}

process.on('message', (asked: Asked) => void make(asked).then((made) => process.send!(made)));
// The collector ended, however that was.
process.on('disconnect', () => process.exit(0));
