import { mkdtempSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import type { DemoSettings } from '../../launch/demo.mjs';
import { DEVICE_PORTS, freePort, freePorts } from '../../launch/ground.mjs';

/** A demo of its own on free ports, in a folder of its own. */
export async function demoSettings(over: Partial<DemoSettings> = {}): Promise<DemoSettings> {
  const [port, databasePort, benchPort, devicePort, neighbourPort] = await Promise.all([
    freePort(),
    freePort(),
    freePort(),
    freePorts(DEVICE_PORTS),
    freePorts(3),
  ]);
  return {
    data: mkdtempSync(join(tmpdir(), 'wide-ledger-demo-')),
    port,
    databasePort,
    benchPort,
    devicePort,
    neighbourPort,
    password: 'only-for-tests',
    readerPassword: 'reader-for-tests',
    databaseUrl: undefined,
    site: 'Thornmere',
    zone: 'Europe/Berlin',
    log: 'silent',
    withPast: true,
    withNeighbours: false,
    ...over,
  };
}
