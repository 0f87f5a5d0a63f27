/** How punctual the collector is: 50 ms on 100 registers and 1 s on 2,000, against the test bench's device. */
import type { CollectorReport, Source } from '@wide-ledger/contract';
import { join } from 'node:path';
import { setTimeout as wait } from 'node:timers/promises';
import { askerOf } from './asking.ts';
import { registerTags, startCollector, startDevice } from './modbusRegisters.ts';
import type { Surroundings } from './surroundings.ts';

const WATCH_MILLISECONDS = 30_000;

export async function measurePunctuality({
  base,
  authorization,
  key,
  devicePort,
  data,
  row,
}: Surroundings): Promise<void> {
  const send = askerOf(base, authorization);
  const bench = await startDevice({ send, devicePort, data, name: 'Device' });
  await send('POST', '/tags', [
    ...registerTags('Device', 'P50.', 100, 50),
    ...registerTags('Device', 'P1000.', 2000, 1000),
  ]);
  const collector = startCollector(base, key, join(data, 'collector'));
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
