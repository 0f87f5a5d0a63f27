/** Configuration by the thousand: putting changes in force until the collector runs them, and reviewing them. */
import type { DraftEdited, ForceResult, Review, Source } from '@wide-ledger/contract';
import { join } from 'node:path';
import { setTimeout as wait } from 'node:timers/promises';
import { startProgram } from '../launch/processes.mjs';
import { askerOf } from './asking.ts';
import type { Surroundings } from './surroundings.ts';

const CHANGED = 5_000;
const MANY = 100_000;
const VERSIONS = 20;
const AT_ONCE = 20_000;

const milliseconds = (value: number): string => `${Math.round(value)} ms`;

/** Five thousand changed tags, among five thousand and then among a hundred thousand with twenty versions each. */
export async function measureConfiguration({
  base,
  authorization,
  key,
  client,
  data,
  row,
}: Surroundings): Promise<void> {
  const send = askerOf(base, authorization);
  // Nothing listens there: what is measured is the configuration, not the reading.
  const connection = { host: '127.0.0.1', port: 9, unit: 1 };
  const { id: source } = await send<{ id: number }>('PUT', '/sources', {
    name: 'Many',
    kind: 'modbus-tcp',
    connection,
  });
  const tags = Array.from({ length: CHANGED }, (_, i) => ({
    name: `Conf${i}`,
    place: `Site / Area ${i % 50}`,
    collection: { source: 'Many', address: { area: 'holding', address: i, type: 'uint16' } },
  }));
  const created = await timed(() => send<{ results: { id: number }[] }>('POST', '/tags', tags));
  row(`${CHANGED} new tags put in force`, milliseconds(created.took));
  const ids = created.value.results.map(({ id }) => id);
  const collector = startProgram(join(import.meta.dirname, '../collector/dist/main.mjs'), {
    WIDE_LEDGER_SERVER: base.replace('/api/v1', ''),
    WIDE_LEDGER_KEY: key,
    WIDE_LEDGER_COLLECTOR: 'configured',
    WIDE_LEDGER_COLLECTOR_DATA: join(data, 'configured'),
    WIDE_LEDGER_LOG: 'silent',
  });
  const runs = async (): Promise<number | null> =>
    (await send<{ sources: Source[] }>('GET', '/sources')).sources.find(({ id }) => id === source)!.runs;
  const untilRuns = async (version: number): Promise<void> => {
    while (((await runs()) ?? 0) < version) await wait(20);
  };
  await untilRuns(1);
  const measure = async (interval: number, among: string): Promise<void> => {
    const changes = ids.map((id) => ({ kind: 'tag', id, set: { settings: { intervalMilliseconds: interval } } }));
    const drafted = await timed(() => send<DraftEdited>('POST', '/drafts', { changes }));
    const { id } = drafted.value.draft!;
    const reviews: number[] = [];
    for (let n = 0; n < 5; n++) reviews.push((await timed(() => send<Review>('GET', `/drafts/${id}`))).took);
    const forced = await timed(async () => {
      const { version } = await send<ForceResult>('POST', `/drafts/${id}/force`, { reason: 'Speed' });
      await untilRuns(version);
    });
    row(`${CHANGED} tags edited in a draft, ${among}`, milliseconds(drafted.took));
    row(
      `their review, ${among}: first, and median of five (aim 300 ms)`,
      `${milliseconds(reviews[0]!)}, ${milliseconds(reviews.sort((a, b) => a - b)[2]!)}`,
    );
    row(`put in force until the collector runs them, ${among} (aim 3 s)`, milliseconds(forced.took));
  };
  await measure(2000, 'alone');
  for (let from = 0; from < MANY - CHANGED; from += AT_ONCE) {
    const count = Math.min(AT_ONCE, MANY - CHANGED - from);
    const more = Array.from({ length: count }, (_, i) => ({ name: `More${from + i}`, place: `Site / Area ${i % 50}` }));
    await send('POST', '/tags', more);
  }
  // Twenty versions of each: the earlier ones as if they had been put in force one after the other.
  await client.query(
    `INSERT INTO configuration_version (number, at, put_by, reason, changes)
       SELECT -n, timestamptz '2020-01-01Z' - n * interval '1 day', 'speed', 'earlier', ${MANY} FROM generate_series(1, ${VERSIONS}) AS n;
     INSERT INTO definition (kind, id, version_from, version_to, body)
       SELECT kind, id, -n, CASE n WHEN 1 THEN version_from ELSE 1 - n END, body FROM definition, generate_series(1, ${VERSIONS - 1}) AS n
       WHERE kind = 'tag' AND version_to IS NULL;
     ANALYZE definition`,
  );
  await measure(3000, `among ${MANY} with ${VERSIONS} versions each`);
  await collector.stop();
}

async function timed<Value>(work: () => Promise<Value>): Promise<{ value: Value; took: number }> {
  const started = performance.now();
  return { value: await work(), took: performance.now() - started };
}
