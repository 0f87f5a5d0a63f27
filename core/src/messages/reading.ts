/** A message on its way from its text to what ways lead into: read by its form, then reshaped where that is asked for. */
import { readExpression } from './expression.ts';
import { readPayload, type PayloadForm } from './payload.ts';

/** A message taken apart; or why it cannot be, as a sentence. */
export type ReadMessage = { readonly message: unknown } | { readonly trouble: string };

/** A text as a message of its form. */
export function readAs(text: string, form: PayloadForm): ReadMessage {
  try {
    return { message: readPayload(text, form) };
  } catch (error) {
    return { trouble: (error as Error).message };
  }
}

/** Puts what an expression makes of a message in its place. @param of its topic, or the request that it answers */
export type Reshape = (read: ReadMessage, of: string) => Promise<ReadMessage>;

/** @param expression empty: messages are taken as they are, and this is null. @throws SyntaxError where it is none */
export function reshapeBy(expression: string): Reshape | null {
  if (expression.trim() === '') return null;
  const evaluate = readExpression(expression);
  return async (read, of) => {
    if ('trouble' in read) return read;
    try {
      return { message: await evaluate(read.message, of) };
    } catch (error) {
      return { trouble: (error as Error).message };
    }
  };
}

/** Both, for whoever has time. */
export async function readMessage(
  text: string,
  form: PayloadForm,
  reshape: Reshape | null,
  of: string,
): Promise<ReadMessage> {
  const read = readAs(text, form);
  return reshape ? reshape(read, of) : read;
}
