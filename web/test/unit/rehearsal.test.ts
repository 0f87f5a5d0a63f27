/** A rehearsal as it is typed: the script in the address, the sources as they stand, and what is said of the outcome. */
import { FAULTS_OF_SOURCES, REHEARSED_FAULTS, rehearse } from '@wide-ledger/core';
import fc from 'fast-check';
import type { Standing } from '../../src/configuration/drafting.ts';
import { faultsOf, linesOf, textOf, wrongIn, type Line } from '../../src/rehearsal/script.ts';
import { sourcesOf, withFigures } from '../../src/rehearsal/sources.ts';
import { adviceWords, outcomeWords } from '../../src/rehearsal/words.ts';

const line = fc.record({
  kind: fc.constantFrom(...REHEARSED_FAULTS),
  source: fc.constantFrom('', 'Well 1', 'Kilnbank controller'),
  at: fc.integer({ min: 0, max: 500 }).map(String),
  lasts: fc.integer({ min: 0, max: 500 }).map(String),
});

test('a script comes back out of the address as it was', () => {
  fc.assert(fc.property(fc.array(line, { maxLength: 5 }), (lines) => expect(linesOf(textOf(lines))).toEqual(lines)));
  expect(linesOf('nonsense|a|b|c;;line cut|Well 1|1|2')).toEqual([
    { kind: 'line cut', source: 'Well 1', at: '1', lasts: '2' },
  ]);
});

test('only what is whole is played, in seconds, of the source that is meant', () => {
  const names = ['Well 1'];
  fc.assert(
    fc.property(line, (one) => {
      const [fault] = faultsOf([one], names);
      if (wrongIn(one) !== null || (FAULTS_OF_SOURCES.has(one.kind) && one.source === 'Kilnbank controller'))
        expect(fault).toBeUndefined();
      else expect(fault).toMatchObject({ kind: one.kind, at: Number(one.at) * 60 });
    }),
  );
  const cut: Line = { kind: 'line cut', source: 'Well 1', at: '0,5', lasts: '2' };
  expect(faultsOf([cut], names)).toEqual([{ kind: 'line cut', source: 0, at: 30, lasts: 120 }]);
  expect(wrongIn({ ...cut, at: 'soon' })).toBe('From when? Type minutes from the start.');
  expect(wrongIn({ ...cut, lasts: '-1' })).toBe('For how long? Type minutes.');
  expect(wrongIn({ ...cut, lasts: '99999' })).toBe('A script ends within two weeks.');
  expect(wrongIn({ ...cut, kind: 'memory lost', lasts: '' })).toBeNull();
});

test('sources are those of the draft, with the rates of today; what reads itself or is paused is left out', () => {
  const standing = (id: number, body: object): Standing =>
    ({ kind: 'source', id, inForce: null, body, life: 'in force' }) as unknown as Standing;
  const opcUa = {
    kind: 'opc-ua',
    connection: { endpoint: 'opc.tcp://x', valuesPerCall: 10, callsPerSecond: 5, bufferValues: 900 },
  };
  const desk = { sources: [{ id: 1, state: { keptPerSecond: 12.34, recovery: null } }] } as unknown as Parameters<
    typeof sourcesOf
  >[1];
  const found = sourcesOf(
    [
      standing(1, { name: 'A', ...opcUa, standby: 'second' }),
      standing(2, { name: 'B', kind: 'modbus-tcp', connection: { host: 'x', port: 502, unit: 1 } }),
      standing(3, { name: 'C', kind: 'collector', connection: {} }),
      standing(4, { name: 'D', ...opcUa, paused: true }),
    ],
    desk,
  );
  expect(found).toMatchObject([
    {
      name: 'A',
      valuesPerSecond: 12.3,
      remembers: 900,
      valuesPerCall: 10,
      callsPerSecond: 5,
      standby: true,
      mode: 'by itself',
    },
    { name: 'B', valuesPerSecond: 1, remembers: null, standby: false },
  ]);
  expect(withFigures(found[0]!, { valuesPerSecond: '2', remembers: '0' })).toMatchObject({
    valuesPerSecond: 2,
    remembersPerSecond: 2,
    remembers: null,
  });
  expect(withFigures(found[0]!, { valuesPerSecond: 'x', remembers: '' })).toEqual(found[0]);
});

test('a memory that is full tells by how far back it reaches how fast it is written', () => {
  const standing = {
    kind: 'source',
    id: 1,
    inForce: null,
    life: 'in force',
    body: { name: 'A', kind: 'opc-ua', connection: { endpoint: 'opc.tcp://x', bufferValues: 1000 } },
  } as unknown as Standing;
  const writes = (reach: number, watched: number): number => {
    const state = {
      keptPerSecond: 1,
      since: Date.now() - watched * 1000,
      recovery: { reachesBack: Date.now() - reach * 1000 },
    };
    const desk = { sources: [{ id: 1, state }] } as unknown as Parameters<typeof sourcesOf>[1];
    return sourcesOf([standing], desk)[0]!.remembersPerSecond;
  };
  expect(writes(100, 5000)).toBeCloseTo(10, 1);
  // It reaches as far back as it is watched: it may be filling yet.
  expect(writes(100, 99)).toBe(1);
});

test('what comes of it is said in a sentence', () => {
  const source = {
    name: 'A',
    valuesPerSecond: 1,
    remembers: 60,
    remembersPerSecond: 1,
    mode: 'by itself',
    valuesPerCall: 10,
    callsPerSecond: 20,
    newestFirst: false,
    standby: false,
  } as const;
  const collector = { spoolBytes: null, bytesPerValue: 20, heldInMemory: 1000, deliversPerSecond: 1000 };
  const play = (lasts: number, over: object = {}) =>
    outcomeWords(
      rehearse({
        sources: [{ ...source, ...over }],
        collector,
        faults: [{ kind: 'line cut', source: 0, at: 60, lasts }],
      }).outcomes[0]!,
    );
  expect(play(30)).toBe('Comes back: 30 s, the last of it 1 min 31 s after the start. Nothing is lost.');
  expect(play(120)).toBe('Comes back: 1 min, the last of it 3 min 1 s after the start. Lost: 1 min.');
  expect(play(30, { remembers: null })).toBe('Lost: 30 s.');
  expect(play(0)).toBe('Nothing is missed.');
  expect(adviceWords({ source: 0, change: 'remember', value: 3610, lost: 0 })).toBe(
    'A memory of 3\u2009610 values in the device: nothing would be lost.',
  );
  expect(adviceWords({ source: 0, change: 'standby', value: null, lost: 90 })).toBe(
    'A standby: 1 min 30 s would be lost all the same.',
  );
});
