/** The CO₂ series of Mauna Loa (Scripps, CC BY 4.0, in npm vega-datasets 3.2.1) against the figures known of it. */
import { readFileSync } from 'node:fs';
import { computeAggregates, cutIntoBuckets, DEFAULT_CONFIGURATION, parseInstant, seriesOf } from '../../src/index.ts';

test('mean, first, last and count of the whole series, computed at once', () => {
  const file = new URL('../../../node_modules/vega-datasets/data/co2-concentration.csv', import.meta.url);
  const rows = readFileSync(file, 'utf8')
    .trim()
    .split(/\r?\n/)
    .slice(1)
    .map((line) => line.split(','));
  const series = seriesOf({
    times: Float64Array.from(rows, ([day]) => parseInstant(`${day!}T00:00:00Z`)!),
    values: Float64Array.from(rows, ([, value]) => Number(value)),
    status: new Uint32Array(rows.length),
  });
  const whole = cutIntoBuckets(series.times[0]!, series.dataEnd + 1, { kind: 'fixed', micros: 0 }, 'UTC');
  const names = ['Average', 'Start', 'End', 'Count'] as const;
  const [mean, first, last, count] = computeAggregates(series, whole, names, DEFAULT_CONFIGURATION).map(
    ([row]) => row!.value,
  );
  expect(mean).toBeCloseTo(355.3109311740891, 10);
  expect([first, last, count]).toEqual([315.7, 416.18, 741]);
});
