/** A message as its fields, read where an expression that does not end can be ended. */
import { readMessage, type PayloadForm, type ReadMessage } from '@wide-ledger/core';

/** Longer than a collector gives an expression, since the worker has to begin first. Milliseconds. */
const LONGEST = 2_000;

export interface Asked {
  readonly payload: string;
  readonly form: PayloadForm;
  /** JSONata; empty: the message as it is. */
  readonly expression: string;
  readonly topic: string;
}

/** @param signal ends it: another message, or another expression, is tried. */
export async function readApart(asked: Asked, signal: AbortSignal): Promise<ReadMessage> {
  const { payload, form, expression, topic } = asked;
  if (expression.trim() === '') return readMessage(payload, form, null, topic);
  const worker = new Worker(new URL('./reading.worker.ts', import.meta.url), { type: 'module' });
  let timer: number | undefined;
  try {
    return await new Promise<ReadMessage>((done, fail) => {
      const trouble = `The expression did not end within ${LONGEST / 1000} s. Simplify it: a collector stops using an expression that takes longer than half a second.`;
      timer = window.setTimeout(() => done({ trouble }), LONGEST);
      signal.addEventListener('abort', () => fail(signal.reason as Error), { once: true });
      worker.onmessage = ({ data }: MessageEvent<ReadMessage>) => done(data);
      worker.onerror = ({ message }) => done({ trouble: message });
      worker.postMessage(asked);
    });
  } finally {
    clearTimeout(timer);
    worker.terminate();
  }
}
