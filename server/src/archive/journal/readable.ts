/** Bytes from elsewhere that are to be entries, bundles or frames. */
import { FrameError } from '@wide-ledger/core';
import { badRequest } from '../../ground/index.ts';

/** @throws ProblemError 400 with what is wrong with the bytes, where they are none of these. */
export function readable<Read>(read: () => Read): Read {
  try {
    return read();
  } catch (error) {
    if (error instanceof FrameError) throw badRequest(error.message, 'NOT_A_FRAME');
    throw error;
  }
}
