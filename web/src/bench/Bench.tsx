/** The test bench: devices of the simulated plant, and the switch that cuts their line. */
import type { BenchDevice, BenchFault } from '@wide-ledger/contract';
import { useMutation, useQueryClient } from '@tanstack/react-query';
import { Button } from '../controls/Button.tsx';
import { Page } from '../controls/Page.tsx';
import { Empty, Failure, Skeleton } from '../controls/States.tsx';
import { showAge, showNumber } from '../controls/values.ts';
import { askAnew } from '../server/anew.ts';
import { post, put } from '../server/calls.ts';
import { useBench } from '../server/queries.ts';
import { lengthWords } from '../window/times.ts';
import { SignalFields } from './SignalFields.tsx';

export function Bench() {
  const { data: devices, error } = useBench();
  const disturbed = devices?.filter(({ fault }) => fault !== null).length ?? 0;
  return (
    <Page
      title="Bench"
      says={
        devices &&
        `${devices.length} simulated ${devices.length === 1 ? 'device' : 'devices'} · ${disturbed === 0 ? 'all lines whole' : `${disturbed} disturbed`}`
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

/** What can be done to a line beside cutting it. */
const FAULTS: readonly (readonly [string, BenchFault])[] = [
  ['nothing gets through', { kind: 'stalled' }],
  ['everything half a second later', { kind: 'slow', milliseconds: 500 }],
  ['everything three seconds later', { kind: 'slow', milliseconds: 3000 }],
  ['100 bytes a second', { kind: 'narrow', bytesPerSecond: 100 }],
  ['no answer comes back', { kind: 'deaf' }],
  ['every answer comes twice', { kind: 'doubled' }],
  ['2 parts in 100 lost', { kind: 'lossy', percent: 2 }],
  ['20 parts in 100 lost', { kind: 'lossy', percent: 20 }],
  ['cut for 3 s every 10 s', { kind: 'flapping', wholeMilliseconds: 7000, cutMilliseconds: 3000 }],
];

/** How a clock may stand, by the seconds that it is ahead. */
const CLOCKS: ReadonlyMap<number, string> = new Map([
  [0, 'clock right'],
  [40, 'clock 40 s ahead'],
  [3600, 'clock an hour ahead'],
  [-600, 'clock 10 min behind'],
]);

const FAULT_WORDS: Readonly<Record<BenchFault['kind'], string>> = {
  cut: 'line cut',
  stalled: 'nothing gets through',
  slow: 'line slow',
  narrow: 'line narrow',
  deaf: 'no answer comes back',
  doubled: 'answers come twice',
  lossy: 'line lossy',
  flapping: 'line flapping',
};

function Device({ device }: { readonly device: BenchDevice }) {
  const client = useQueryClient();
  const act = useMutation({
    mutationFn: (fault: BenchFault | null) => put(`/bench/${encodeURIComponent(device.name)}/fault`, { fault }),
    onSettled: () => askAnew(client, ['bench']),
  });
  const forget = useMutation({
    mutationFn: () => post(`/bench/${encodeURIComponent(device.name)}/forget`),
    onSettled: () => askAnew(client, ['bench']),
  });
  const clock = useMutation({
    mutationFn: (seconds: number) => put(`/bench/${encodeURIComponent(device.name)}/clock`, { seconds }),
    onSettled: () => askAnew(client, ['bench']),
  });
  const failure = act.error ?? forget.error ?? clock.error;
  return (
    <section aria-label={device.name} className="mb-6">
      <div className="flex flex-wrap items-center gap-x-3 gap-y-2 border-y border-ink/70 py-2.5">
        <div className="min-w-48 flex-1">
          <h2 className="font-semibold">{device.name}</h2>
          <p className="text-ink-2">
            {device.place} · {device.protocol} ·{' '}
            <span className="figure">{device.port === 0 ? device.host : `${device.host}:${device.port}`}</span>
          </p>
        </div>
        <p className="text-right">
          <span className={device.fault ? 'font-semibold text-madder' : ''} data-testid="line">
            {device.fault ? FAULT_WORDS[device.fault.kind] : 'line whole'}
          </span>
          <br />
          <span className="text-ink-2">
            {showAge(Date.now() - Date.parse(device.changedAt)).replace(' ago', '')} · {device.connections} connected ·{' '}
            {showNumber(device.requests)} requests
          </span>
          {device.memory && (
            <>
              <br />
              <span className="text-ink-2">
                remembers {showNumber(device.memory.holds)} of {showNumber(device.memory.capacity)} values
                {device.memory.since && `, ${lengthWords(Date.now() - Date.parse(device.memory.since))} back`}
              </span>
            </>
          )}
        </p>
        {device.clockError !== null && (
          <select
            aria-label={`Clock of ${device.name}`}
            className={`h-[30px] w-34 rounded-paper border bg-raised px-1 ${device.clockError === 0 ? 'border-rule' : 'border-ochre text-ochre'}`}
            value={device.clockError}
            disabled={clock.isPending}
            onChange={(event) => clock.mutate(Number(event.target.value))}
          >
            {[...new Set([...CLOCKS.keys(), device.clockError])].map((seconds) => (
              <option key={seconds} value={seconds}>
                {CLOCKS.get(seconds) ?? `clock ${seconds} s ahead`}
              </option>
            ))}
          </select>
        )}
        {device.memory && (
          <Button disabled={forget.isPending} onClick={() => forget.mutate()}>
            Empty its memory
          </Button>
        )}
        {device.fault ? (
          <Button main disabled={act.isPending} onClick={() => act.mutate(null)}>
            Restore the line
          </Button>
        ) : (
          <>
            <select
              aria-label={`Disturb the line of ${device.name}`}
              className="h-[30px] w-38 rounded-paper border border-rule bg-raised px-1"
              value=""
              disabled={act.isPending}
              onChange={(event) => act.mutate(FAULTS[Number(event.target.value)]![1])}
            >
              <option value="">Disturb the line…</option>
              {FAULTS.map(([words], i) => (
                <option key={words} value={i}>
                  {words}
                </option>
              ))}
            </select>
            <Button disabled={act.isPending} onClick={() => act.mutate({ kind: 'cut' })}>
              Cut the line
            </Button>
          </>
        )}
      </div>
      {failure && <Failure error={failure} />}
      <Points device={device} />
    </section>
  );
}

/** More points than this are shown when they are asked for. */
const FEW = 40;

function Points({ device }: { readonly device: BenchDevice }) {
  const { points } = device;
  const table = <PointTable device={device} />;
  if (points.length <= FEW) return table;
  return (
    <details>
      <summary className="cursor-pointer py-1.5 text-ink-2">{points.length} points</summary>
      {table}
    </details>
  );
}

function PointTable({ device }: { readonly device: BenchDevice }) {
  return (
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
            <td className="pl-1.5">
              <span className="figure">{point.name}</span>
              {point.signal && <SignalFields device={device.name} signal={point.signal} />}
            </td>
            <td className="figure text-ink-2">{point.address}</td>
            <td className="figure text-right">{point.raw}</td>
            <td className="figure pr-3 text-right">{point.value}</td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}
