/** A kind of source that is asked, and answers as a test has it. */
import type { Kind, PolledSession } from '../src/index.ts';

export const polledKind = (read: PolledSession['read']): Kind => ({
  check: () => Promise.reject(new Error('not asked for')),
  open: () => Promise.resolve({ acquires: 'poll', read, close: () => undefined }),
});
