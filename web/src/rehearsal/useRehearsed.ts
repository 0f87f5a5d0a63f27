import type { Scenario } from '@wide-ledger/core';
import { useEffect, useState } from 'react';
import type { Answer } from './rehearsing.worker.ts';

/** After the last change so much passes before it is played. Milliseconds. */
const REST = 250;

/** What a scenario comes to; what it came to before, until that is known. @param scenario null: nothing is played. */
export function useRehearsed(scenario: Scenario | null): {
  readonly answer: Answer | null;
  readonly isPlaying: boolean;
} {
  const [state, setState] = useState<{ readonly of: string; readonly answer: Answer } | null>(null);
  const asked = scenario === null ? null : JSON.stringify(scenario);
  useEffect(() => {
    if (asked === null) return;
    let worker: Worker | null = null;
    const timer = setTimeout(() => {
      worker = new Worker(new URL('./rehearsing.worker.ts', import.meta.url), { type: 'module' });
      worker.onmessage = ({ data }: MessageEvent<Answer>) => setState({ of: asked, answer: data });
      worker.postMessage(JSON.parse(asked));
    }, REST);
    return () => {
      clearTimeout(timer);
      worker?.terminate();
    };
  }, [asked]);
  return { answer: asked === null ? null : (state?.answer ?? null), isPlaying: asked !== null && state?.of !== asked };
}
