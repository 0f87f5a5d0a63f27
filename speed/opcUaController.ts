/**
 * A controller of many variables, each a counter of seconds, for the speed run: a process of its own. With a beat it
 * remembers, so many milliseconds apart, a hundred thousand values.
 */
import { OpcUaDevice, type Variable } from '../bench/src/index.ts';

const [port, innerPort, count, beat = 0] = process.argv.slice(2).map(Number) as [number, number, number, number?];
const variables = Array.from({ length: count }, (_, i): Variable => ({
  path: ['Counters'],
  name: `C${i}`,
  tag: `C${i}`,
  description: '',
  unit: '',
  low: null,
  high: null,
  type: 'Double',
  at: (seconds) => Math.floor(seconds),
}));
const device = new OpcUaDevice({ name: 'Counters', place: 'Speed', variables }, '127.0.0.1', port, innerPort, {
  renewMilliseconds: 1000,
  ...(beat > 0 && { ring: { capacity: 100_000, feeding: { by: 'time' as const, milliseconds: beat } } }),
});
await device.start();
process.send?.('ready');
process.once('SIGTERM', () => void device.stop().then(() => process.exit(0)));
