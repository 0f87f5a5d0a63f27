/** How punctual the collector is: 50 ms on 100 registers and 1 s on 2,000, against the test bench's device. */
import type { CollectorReport, Source } from '@wide-ledger/contract';
import { join } from 'node:path';
import { setTimeout as wait } from 'node:timers/promises';
import { freePort } from '../launch/ground.mjs';
import { startProgram } from '../launch/processes.mjs';
import { askerOf } from './asking.ts';

const WATCH_MILLISECONDS = 30_000;

interface Surroundings {
  readonly base: string;
  readonly authorization: string;
  readonly key: string;
  readonly devicePort: number;
  readonly data: string;
  readonly row: (name: string, value: string, ratio?: string) => void;
}

export async function measurePunctuality({
  base,
  authorization,
  key,
  devicePort,
  data,
  row,
}: Surroundings): Promise<void> {
  const send = askerOf(base, authorization);
  const bench = startProgram(join(import.meta.dirname, '../bench/dist/main.mjs'), {
    WIDE_LEDGER_BENCH_PORT: String(await freePort()),
    WIDE_LEDGER_DEVICE_PORT: String(devicePort),
    WIDE_LEDGER_DATA: data,
  });
  await send('PUT', '/sources', {
    name: 'Device',
    kind: 'modbus-tcp',
    connection: { host: '127.0.0.1', port: devicePort, unit: 1 },
  });
  const tags = (count: number, interval: number) =>
    Array.from({ length: count }, (_, i) => ({
      name: `P${interval}.${i}`,
      type: 'integer',
      // Registers beyond the device's own answer 0: what is measured is the reading.
      collection: {
        source: 'Device',
        address: { area: 'holding', address: i, type: 'uint16' },
        intervalMilliseconds: interval,
      },
    }));
  await send('POST', '/tags', [...tags(100, 50), ...tags(2000, 1000)]);
  const collector = startProgram(join(import.meta.dirname, '../collector/dist/main.mjs'), {
    WIDE_LEDGER_SERVER: base.replace('/api/v1', ''),
    WIDE_LEDGER_KEY: key,
    WIDE_LEDGER_COLLECTOR_DATA: join(data, 'collector'),
    WIDE_LEDGER_LOG: 'error',
  });
  await wait(WATCH_MILLISECONDS);
  const { sources } = await send<{ sources: Source[] }>('GET', '/sources');
  const timing: CollectorReport['sources'][number]['timing'] = sources[0]!.state!.timing;
  for (const [interval, { reads, jitterMedian, jitter99, durationMedian, missed }] of Object.entries(timing)) {
    row(
      `${interval} on ${interval === '50 ms' ? 100 : 2000} registers, ${reads} reads`,
      `late ${jitterMedian.toFixed(1)} / ${jitter99.toFixed(1)} ms`,
      `median / 99th; a read takes ${durationMedian.toFixed(1)} ms; ${missed} missed`,
    );
  }
  await collector.stop();
  await bench.stop();
}
