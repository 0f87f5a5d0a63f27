/** What Saltquay reads, as the server takes it: a broker to which meters tell their readings, and a service with the weather. */
import { SALTQUAY, type Meter, type Reading } from '../plant/saltquay.ts';
import { SALTQUAY_STATION, type MetricType } from '../plant/saltquayStation.ts';
import { WEATHER_SERVICE } from '../plant/weather.ts';

/** @param port of the broker's line. */
export const meterSource = (port: number): object => ({
  name: SALTQUAY.name,
  kind: 'mqtt',
  connection: { host: '127.0.0.1', port, topics: ['saltquay/#'], payload: 'json', time: 'ts', status: 'quality' },
});

const tagOf = (
  { topic, place, everySeconds, command }: Meter,
  { tag: name, description, unit, type, low, high, field, writable }: Reading,
): object => ({
  name,
  description,
  place,
  unit,
  type,
  low,
  high,
  ...(writable ? { writable } : {}),
  collection: {
    source: SALTQUAY.name,
    address: {
      topic,
      field,
      ...(writable ? { command, commandMessage: `{"field": "${field}", "value": {value}}` } : {}),
    },
    intervalMilliseconds: everySeconds * 1000,
    aligned: true,
    deadband: { kind: 'none' },
    longestSilenceSeconds: 60,
  },
});

export const meterTags = (): object[] =>
  SALTQUAY.meters.flatMap((meter) => meter.readings.map((reading) => tagOf(meter, reading)));

/** The booster station, whose edge node speaks through the same broker. @param port of its line. */
export const stationSource = (port: number): object => ({
  name: SALTQUAY_STATION.name,
  kind: 'sparkplug',
  connection: { host: '127.0.0.1', port, groups: [SALTQUAY_STATION.group] },
});

const TYPE_OF: Readonly<Record<MetricType, string>> = {
  Int32: 'integer',
  Int64: 'integer',
  UInt64: 'integer',
  Float: 'real',
  Boolean: 'boolean',
};

export const stationTags = (): object[] =>
  SALTQUAY_STATION.metrics.map(({ tag: name, device, name: metric, type, at: _formula, ...described }) => ({
    name,
    ...described,
    type: TYPE_OF[type],
    place: SALTQUAY_STATION.place,
    collection: {
      source: SALTQUAY_STATION.name,
      address: { group: SALTQUAY_STATION.group, edge: SALTQUAY_STATION.edge, device, metric },
      intervalMilliseconds: SALTQUAY_STATION.everySeconds * 1000,
      aligned: true,
      deadband: { kind: 'none' },
      longestSilenceSeconds: 60,
    },
  }));

/** The weather station: asked every five seconds. @param port of its line. */
export const weatherSource = (port: number): object => ({
  name: WEATHER_SERVICE.name,
  kind: 'http-json',
  connection: {
    base: `http://127.0.0.1:${port}`,
    requests: [WEATHER_SERVICE.request, '/nameplates/1', '/nameplates/2', '/nameplates/3'],
    time: 'ts',
  },
});

export const weatherTags = (): object[] =>
  WEATHER_SERVICE.readings.map(({ tag: name, field, at: _formula, ...described }) => ({
    name,
    ...described,
    place: `${WEATHER_SERVICE.place} / Weather`,
    collection: {
      source: WEATHER_SERVICE.name,
      address: { request: WEATHER_SERVICE.request, field },
      intervalMilliseconds: WEATHER_SERVICE.everySeconds * 1000,
      aligned: true,
      deadband: { kind: 'none' },
      longestSilenceSeconds: 300,
    },
  }));
