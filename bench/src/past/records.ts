/** What Kilnbank's own records are read as, as the server takes it: files, a workbook, a table. */
import { BOILER_LOG, LABORATORY, RECORDER, type RecordedPoint } from '../plant/kilnbank/records.ts';
import type { ServerCalls } from './delivery.ts';

const filesSource = (name: string, connection: object): object => ({ name, kind: 'files', connection });

const tagsOf = (
  source: { readonly name: string; readonly place: string; readonly everySeconds: number },
  points: readonly RecordedPoint[],
  stepped: boolean,
): object[] =>
  points.map(({ tag: name, series, at: _formula, ...described }) => ({
    name,
    ...described,
    place: source.place,
    stepped,
    collection: {
      source: source.name,
      address: { series },
      intervalMilliseconds: Math.min(5, source.everySeconds) * 1000,
      aligned: true,
      deadband: { kind: 'none' },
      longestSilenceSeconds: null,
    },
  }));

/** Gives Kilnbank its records; what is there already is left as it is. @param port of the boiler log's line. */
export async function readRecords(
  kilnbank: Pick<ServerCalls, 'json'>,
  places: { readonly folder: string; readonly port: number; readonly password: string },
): Promise<void> {
  const { sources } = await kilnbank.json<{ sources: { name: string }[] }>('GET', '/sources');
  if (sources.some(({ name }) => name === RECORDER.name)) return;
  const { folder, port, password } = places;
  const { id } = await kilnbank.json<{ id: number }>('POST', '/secrets', { value: password });
  await kilnbank.json(
    'PUT',
    '/sources',
    filesSource(RECORDER.name, {
      folder,
      names: 'recorder-*.csv',
      time: 'Zeit',
      dates: 'dmy',
      decimal: 'comma',
      zone: RECORDER.zone,
    }),
  );
  await kilnbank.json(
    'PUT',
    '/sources',
    filesSource(LABORATORY.name, {
      folder,
      names: 'laboratory*.xlsx',
      sheet: LABORATORY.sheet,
      time: 'Sampled',
      zone: LABORATORY.zone,
    }),
  );
  const { table, database, reader } = BOILER_LOG;
  await kilnbank.json('PUT', '/sources', {
    name: BOILER_LOG.name,
    kind: 'sql',
    connection: {
      port,
      database,
      user: reader,
      password: id,
      query: `SELECT number, logged_at, point, value, quality FROM ${table}`,
      progress: 'number',
      time: 'logged_at',
      series: 'point',
      status: 'quality',
      statusIs: 'byte',
    },
  });
  await kilnbank.json('POST', '/tags', [
    ...tagsOf(RECORDER, RECORDER.points, false),
    ...tagsOf(LABORATORY, LABORATORY.points, true),
    ...tagsOf(BOILER_LOG, BOILER_LOG.points, false),
  ]);
}
