/** The test bench's Modbus device as a source, and registers of it as tags. */
import { join } from 'node:path';
import { freePort } from '../launch/ground.mjs';
import { startProgram, type Program } from '../launch/processes.mjs';
import type { askerOf } from './asking.ts';

interface Bench {
  readonly send: ReturnType<typeof askerOf>;
  readonly devicePort: number;
  readonly data: string;
  /** What the source is called. */
  readonly name: string;
}

/** Starts the test bench, and makes its device a source. */
export async function startDevice({ send, devicePort, data, name }: Bench): Promise<Program> {
  const bench = startProgram(join(import.meta.dirname, '../bench/dist/main.mjs'), {
    WIDE_LEDGER_BENCH_PORT: String(await freePort()),
    WIDE_LEDGER_DEVICE_PORT: String(devicePort),
    WIDE_LEDGER_DATA: data,
  });
  const connection = { host: '127.0.0.1', port: devicePort, unit: 1 };
  await send('PUT', '/sources', { name, kind: 'modbus-tcp', connection });
  return bench;
}

/** Registers as tags. Those beyond the device's own answer 0: what is measured is the reading. */
export const registerTags = (source: string, prefix: string, count: number, intervalMilliseconds: number): object[] =>
  Array.from({ length: count }, (_, i) => ({
    name: `${prefix}${i}`,
    type: 'integer',
    collection: { source, address: { area: 'holding', address: i, type: 'uint16' }, intervalMilliseconds },
  }));

/** Starts a collector of its own folder against the server. */
export const startCollector = (base: string, key: string, folder: string): Program =>
  startProgram(join(import.meta.dirname, '../collector/dist/main.mjs'), {
    WIDE_LEDGER_SERVER: base.replace('/api/v1', ''),
    WIDE_LEDGER_KEY: key,
    WIDE_LEDGER_COLLECTOR_DATA: folder,
    WIDE_LEDGER_LOG: 'error',
  });
