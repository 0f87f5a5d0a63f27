/** The point under the cursor in full: time in both zones, value, status in words, how it got in. */
import type { RawAnswer } from '@wide-ledger/contract';
import { useQuery } from '@tanstack/react-query';
import { useEffect, useState } from 'react';
import { showValue } from '../controls/values.ts';
import { get } from '../server/calls.ts';
import { bothZones } from '../window/times.ts';
import { useWindowState } from '../window/windowStore.ts';
import type { Hovered } from './points.ts';

const REST_MILLISECONDS = 120;

export function PointLine({ hovered, hint }: { readonly hovered: Hovered | null; readonly hint: string }) {
  const siteZone = useWindowState((state) => state.siteZone);
  const [rested, setRested] = useState<Hovered | null>(null);
  useEffect(() => {
    const timer = setTimeout(() => setRested(hovered), REST_MILLISECONDS);
    return () => clearTimeout(timer);
  }, [hovered]);
  const { data } = useQuery({
    queryKey: ['point', rested?.tag, rested?.time],
    queryFn: ({ signal }) => {
      const from = Math.floor(rested!.time);
      const window = { from: new Date(from).toISOString(), to: new Date(from + 1).toISOString(), limit: 1 };
      return get<RawAnswer>('/history/raw', { tag: rested!.tag, ...window }, signal);
    },
    enabled: rested !== null,
    staleTime: 60_000,
  });
  const sample = data?.samples[0];
  return (
    <p className="h-5 truncate text-ink-2" data-testid="point">
      {rested && sample ? (
        <>
          <span className="figure text-ink">{rested.tag}</span> {bothZones(Date.parse(sample.time), siteZone)} ·{' '}
          <span className="figure text-ink">{showValue(sample.value)}</span> {rested.unit} · {sample.quality} ·{' '}
          {sample.origin}
        </>
      ) : (
        hint
      )}
    </p>
  );
}
