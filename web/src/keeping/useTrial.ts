import { useEffect, useRef, useState } from 'react';
import type { Trial, TrialAnswer } from './trial.ts';

/** After the last change so much passes before it is tried. Milliseconds. */
const REST = 150;

type Tried = Extract<TrialAnswer, { is: 'tried' }>;
export interface TrialState {
  /** What came of it last; of the trial before, while another one is on its way. */
  readonly tried: Tried | null;
  readonly loading: Extract<TrialAnswer, { is: 'loading' }> | null;
  readonly failed: string | null;
  readonly isTrying: boolean;
}
const NOTHING: TrialState = { tried: null, loading: null, failed: null, isTrying: false };

/** Tries settings in a worker that keeps what it fetched. @param trial null: nothing is tried */
export function useTrial(trial: Trial | null): TrialState {
  const worker = useRef<Worker | null>(null);
  const [state, setState] = useState<TrialState>(NOTHING);
  useEffect(() => {
    const beside = new Worker(new URL('./keeping.worker.ts', import.meta.url), { type: 'module' });
    worker.current = beside;
    beside.onmessage = ({ data }: MessageEvent<TrialAnswer>) =>
      setState((before) => {
        if (data.is === 'loading') return { ...before, loading: data, failed: null };
        const ended = { loading: null, isTrying: false };
        return data.is === 'failed'
          ? { ...before, ...ended, failed: data.sentence }
          : { ...ended, tried: data, failed: null };
      });
    return () => beside.terminate();
  }, []);
  const asked = trial === null ? null : JSON.stringify(trial);
  useEffect(() => {
    if (asked === null) return;
    setState((before) => ({ ...before, isTrying: true }));
    const timer = setTimeout(() => worker.current?.postMessage(JSON.parse(asked)), REST);
    return () => clearTimeout(timer);
  }, [asked]);
  return asked === null ? NOTHING : state;
}
