/** Current values as they come: server-sent events for the tags on screen. */
import type { LiveSample } from '@wide-ledger/contract';
import { useEffect, useState } from 'react';
import { create } from 'zustand';

interface LiveState {
  readonly samples: ReadonlyMap<number, LiveSample>;
  readonly connected: boolean;
}

export const useLive = create<LiveState>(() => ({ samples: new Map(), connected: true }));

/** The latest sample of a tag, as far as somebody on screen follows it. */
export const useLiveSample = (tag: number): LiveSample | undefined => useLive((state) => state.samples.get(tag));

const REST_MILLISECONDS = 150;

/** Numbers of tags on screen as a list with commas, in ascending order, once scrolling has come to rest. */
export function useRested(tags: readonly number[]): string {
  const wanted = [...tags].sort((a, b) => a - b).join(',');
  const [rested, setRested] = useState(wanted);
  useEffect(() => {
    const timer = setTimeout(() => setRested(wanted), REST_MILLISECONDS);
    return () => clearTimeout(timer);
  }, [wanted]);
  return rested;
}

/** Follows tags while the component stands; a list that is scrolled changes the stream a moment after it rests. */
export function useFollow(tags: readonly number[]): void {
  const rested = useRested(tags);
  useEffect(() => {
    if (rested === '') return;
    const events = new EventSource(`/api/v1/live?tags=${rested}`);
    events.onopen = () => useLive.setState({ connected: true });
    events.onerror = () => useLive.setState({ connected: false });
    events.onmessage = ({ data }: MessageEvent<string>) => {
      const changed = JSON.parse(data) as LiveSample[];
      useLive.setState(({ samples }) => {
        const next = new Map(samples);
        for (const sample of changed) next.set(sample.tag, sample);
        return { samples: next };
      });
    };
    return () => events.close();
  }, [rested]);
}
