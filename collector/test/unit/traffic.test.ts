import { TrafficMeter } from '../../src/source/traffic.ts';
import { Troubles } from '../../src/source/troubles.ts';

test('counts become rates from one look to the next; another connection begins anew', () => {
  const meter = new TrafficMeter();
  expect(meter.perSecond({ requests: 10, bytes: 1000 }, 0)).toBeNull();
  expect(meter.perSecond({ requests: 30, bytes: 5000 }, 2000)).toEqual({ requestsPerSecond: 10, bytesPerSecond: 2000 });
  expect(meter.perSecond({ requests: 31, bytes: 5100 }, 2100)).toEqual({ requestsPerSecond: 10, bytesPerSecond: 2000 });
  expect(meter.perSecond({ requests: 2, bytes: 90 }, 4000)).toBeNull();
  expect(meter.perSecond({ requests: 4, bytes: 290 }, 5000)).toEqual({ requestsPerSecond: 2, bytesPerSecond: 200 });
  expect(meter.perSecond(null, 6000)).toBeNull();
});

test('troubles are counted by kind, the last one first, and bounded', () => {
  const troubles = new Troubles();
  for (let i = 0; i < 3; i++) troubles.note('CLOSED', `cut ${i}`, i);
  troubles.note('ETIMEDOUT', 'late', 9);
  expect(troubles.list).toEqual([
    { code: 'ETIMEDOUT', sentence: 'late', count: 1, last: 9 },
    { code: 'CLOSED', sentence: 'cut 2', count: 3, last: 2 },
  ]);
  for (let i = 0; i < 100; i++) troubles.note(`CODE_${i}`, 'x', 10 + i);
  expect(troubles.list).toHaveLength(8);
});
