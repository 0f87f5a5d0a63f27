/** Reads one message by an expression, beside the screen: an expression may run for ever. */
import { readMessage, reshapeBy } from '@wide-ledger/core';
import type { Asked } from './readApart.ts';

addEventListener('message', ({ data: { payload, form, expression, topic } }: MessageEvent<Asked>) => {
  readMessage(payload, form, reshapeBy(expression), topic)
    .then((read) => postMessage(read))
    // Such as of a message that is a function.
    .catch((error: Error) => postMessage({ trouble: error.message }));
});
