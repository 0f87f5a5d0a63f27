/** What a library throws where nobody can catch it: whose it is, and what it may end. */
import { AsyncResource } from 'node:async_hooks';
import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { Faults, runFor } from '../../src/isolation/isolation.ts';
import { takeLastEnd, writeLastEnd } from '../../src/isolation/lastEnd.ts';

test('a fault in a callback is the one’s whose work it follows from, and goes no further', async () => {
  const told: string[] = [];
  const faults = new Faults({
    borne: ({ message }, source) => told.push(`borne ${message} of ${source}`),
    fatal: ({ message }, source) => told.push(`fatal ${message} of ${source}`),
  });
  const failing = (message: string) => (): void => faults.uncaught(new Error(message));
  await new Promise<void>((done) => {
    runFor({ source: 7, fault: ({ message }) => told.push(`ended by ${message}`) }, () => {
      setTimeout(failing('timer'), 1);
      void Promise.resolve().then(failing('promise'));
      new AsyncResource('socket').runInAsyncScope(failing('socket'));
      setTimeout(done, 5);
    });
  });
  expect(told).toEqual([
    'ended by socket',
    'borne socket of 7',
    'ended by promise',
    'borne promise of 7',
    'ended by timer',
    'borne timer of 7',
  ]);
  told.length = 0;
  faults.uncaught('nobody’s');
  expect(told).toEqual(['fatal nobody’s of null']);
});

test('a source that fails again and again is left for last, and a fault while a fault is told ends the process', () => {
  let now = 0;
  const ends: unknown[] = [];
  const faults = new Faults({ borne: () => undefined, fatal: (_, source) => ends.push(source) }, () => now);
  const fail = (): void => runFor({ source: 3, fault: () => undefined }, () => faults.uncaught(new Error('again')));
  for (let n = 0; n < 20; n++) fail();
  now += 61_000;
  fail();
  expect(ends).toEqual([]);
  for (let n = 0; n < 20; n++) fail();
  expect(ends).toEqual([3]);
  const twice = (): never => {
    throw new Error('second');
  };
  runFor({ source: 4, fault: twice }, () => faults.uncaught(new Error('first')));
  expect(ends).toEqual([3, 4]);
});

test('how it ended is told once, to the next start', () => {
  const folder = mkdtempSync(join(tmpdir(), 'wide-ledger-end-'));
  const end = { at: 1, reason: 'no such code', source: 2 };
  writeLastEnd(folder, end);
  expect([takeLastEnd(folder), takeLastEnd(folder)]).toEqual([end, null]);
  rmSync(folder, { recursive: true });
});
