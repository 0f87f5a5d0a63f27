/** The test bench: devices of the simulated plant, and the switch that cuts their line. */
import type { BenchDevice } from '@wide-ledger/contract';
import { useMutation, useQueryClient } from '@tanstack/react-query';
import { Button } from '../controls/Button.tsx';
import { Page } from '../controls/Page.tsx';
import { Empty, Failure, Skeleton } from '../controls/States.tsx';
import { showAge, showNumber } from '../controls/values.ts';
import { post } from '../server/calls.ts';
import { useBench } from '../server/queries.ts';

export function Bench() {
  const { data: devices, error } = useBench();
  const cut = devices?.filter((device) => !device.connected).length ?? 0;
  return (
    <Page
      title="Bench"
      says={
        devices &&
        `${devices.length} simulated ${devices.length === 1 ? 'device' : 'devices'} · ${cut === 0 ? 'all lines whole' : `${cut} cut`}`
      }
    >
      {error && <Failure error={error} />}
      {!devices && !error && <Skeleton rows={10} />}
      {devices?.length === 0 && <Empty>This test bench has no device.</Empty>}
      <div className="min-h-0 flex-1 overflow-y-auto pb-6">
        {devices?.map((device) => (
          <Device key={device.name} device={device} />
        ))}
      </div>
    </Page>
  );
}

function Device({ device }: { readonly device: BenchDevice }) {
  const client = useQueryClient();
  const act = useMutation({
    mutationFn: (action: 'cut' | 'restore') => post(`/bench/${encodeURIComponent(device.name)}/${action}`),
    onSettled: () => client.invalidateQueries({ queryKey: ['bench'] }),
  });
  return (
    <section aria-label={device.name} className="mb-6">
      <div className="flex items-center gap-4 border-y border-ink/70 py-2.5">
        <div className="min-w-0 flex-1">
          <h2 className="font-semibold">{device.name}</h2>
          <p className="text-ink-2">
            {device.place} · {device.protocol} · <span className="figure">{`${device.host}:${device.port}`}</span>
          </p>
        </div>
        <p className="text-right">
          <span className={device.connected ? '' : 'font-semibold text-madder'} data-testid="line">
            {device.connected ? 'line whole' : 'line cut'}
          </span>
          <br />
          <span className="text-ink-2">
            {showAge(Date.now() - Date.parse(device.changedAt)).replace(' ago', '')} · {device.clients} connected ·{' '}
            {showNumber(device.requests)} requests
          </span>
        </p>
        {device.connected ? (
          <Button disabled={act.isPending} onClick={() => act.mutate('cut')}>
            Cut the line
          </Button>
        ) : (
          <Button main disabled={act.isPending} onClick={() => act.mutate('restore')}>
            Restore the line
          </Button>
        )}
      </div>
      {act.error && <Failure error={act.error} />}
      <table className="w-full text-left">
        <thead className="text-ink-2">
          <tr className="h-8 border-b border-rule">
            <th className="pl-1.5 font-normal">Point</th>
            <th className="font-normal">Where it lies</th>
            <th className="text-right font-normal">Bytes on the wire</th>
            <th className="pr-3 text-right font-normal">Raw number</th>
          </tr>
        </thead>
        <tbody>
          {device.points.map((point) => (
            <tr key={point.name} className="h-7 border-b border-rule">
              <td className="figure pl-1.5">{point.name}</td>
              <td className="figure text-ink-2">{point.address}</td>
              <td className="figure text-right">{point.raw}</td>
              <td className="figure pr-3 text-right">{point.value}</td>
            </tr>
          ))}
        </tbody>
      </table>
    </section>
  );
}
