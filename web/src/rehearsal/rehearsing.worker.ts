/** Plays a rehearsal beside the screen: with its advice it is played many times over. */
import { adviceFor, rehearse, type Advice, type Rehearsed, type Scenario } from '@wide-ledger/core';

export interface Answer {
  readonly played: Rehearsed;
  readonly advice: readonly Advice[];
}

addEventListener('message', ({ data }: MessageEvent<Scenario>) => {
  const played = rehearse(data);
  postMessage({ played, advice: adviceFor(data, played) } satisfies Answer);
});
