/** The demo's other sites: what they read, and the links by which all carry to the region. Their past begins with them. */
import { BOILER_LOG_PORT, KILNBANK_PORT, REGION_LINES, SALTQUAY_PORT, WEATHER_PORT } from '../plant/devices.ts';
import { KILNBANK } from '../plant/kilnbank/controller.ts';
import { controllerSource, controllerTags } from './controllers.ts';
import type { ServerCalls } from './delivery.ts';
import { readRecords } from './records.ts';
import { meterSource, meterTags, stationSource, stationTags, weatherSource, weatherTags } from './meters.ts';

type Calls = Pick<ServerCalls, 'json'>;

export interface Sites {
  readonly thornmere: Calls;
  readonly kilnbank: Calls;
  readonly saltquay: Calls;
  readonly region: Calls;
}

/** @param port of the first device's line. @param records where Kilnbank writes down what it does. */
export async function joinSites(
  { thornmere, kilnbank, saltquay, region }: Sites,
  port: number,
  records: { readonly folder: string; readonly password: string },
): Promise<void> {
  await kilnbank.json('PUT', '/sources', controllerSource(KILNBANK, port + KILNBANK_PORT));
  await kilnbank.json('POST', '/tags', controllerTags(KILNBANK));
  await readRecords(kilnbank, { ...records, port: port + BOILER_LOG_PORT });
  await saltquay.json('PUT', '/sources', meterSource(port + SALTQUAY_PORT));
  await saltquay.json('PUT', '/sources', stationSource(port + SALTQUAY_PORT));
  await saltquay.json('PUT', '/sources', weatherSource(port + WEATHER_PORT));
  await saltquay.json('POST', '/tags', [...meterTags(), ...stationTags(), ...weatherTags()]);
  await link(thornmere, region, 'Thornmere', port, 'Thornmere Wells');
  await link(kilnbank, region, 'Kilnbank', port, '');
  await link(saltquay, region, 'Saltquay', port, '');
}

/** The name of every site's link to the region. */
const LINK = 'To the region';

async function link(
  near: Calls,
  region: Calls,
  site: keyof typeof REGION_LINES,
  port: number,
  place: string,
): Promise<void> {
  const { sending } = await near.json<{ sending: { name: string }[] }>('GET', '/links');
  if (sending.some(({ name }) => name === LINK)) return;
  const { code } = await region.json<{ code: string }>('POST', '/links/invitations', { name: site });
  const url = `http://127.0.0.1:${port + REGION_LINES[site]}`;
  await near.json('POST', '/links', { name: LINK, url, code, carries: [{ search: '', place }] });
}
