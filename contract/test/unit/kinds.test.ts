/** What is said of kinds of sources and of definitions, once: every form, check and sentence hangs on it. */
import { DEFINITION_KINDS } from '@wide-ledger/core';
import {
  BODIES,
  KINDS,
  RUNGS,
  SOURCE_KINDS,
  fieldSchema,
  fieldTitle,
  schemaOf,
  type FieldSchema,
} from '../../src/index.ts';

/** Every field of a schema that holds a value, by its path. */
function fieldsOf(schema: FieldSchema, path: readonly string[] = []): (readonly string[])[] {
  const shapes = [schema, ...(schema.anyOf ?? []), ...(schema.oneOf ?? [])];
  const own = shapes.flatMap(({ properties }) => Object.entries(properties ?? {}));
  if (own.length === 0) return path.length > 0 ? [path] : [];
  return own.flatMap(([name, field]) => fieldsOf(field, [...path, name]));
}

test('every kind of definition has a body that forms can be drawn from', () => {
  expect(Object.keys(BODIES).sort()).toEqual([...DEFINITION_KINDS].sort());
  for (const kind of DEFINITION_KINDS) {
    const fields = fieldsOf(schemaOf(kind));
    expect([kind, fields.some((path) => path.join('.') === 'name')]).toEqual([kind, true]);
    for (const path of fields) expect([kind, path, fieldSchema(schemaOf(kind), path)]).not.toContain(undefined);
  }
});

test('every field that a person fills in has a title', () => {
  // The field that tells shapes apart, what the standard calls by its own names, and names of states are their own words.
  const named = /^(kind|deadband\.kind|.*\.kind|aggregateConfiguration\..*|counter\..*)$/;
  for (const kind of DEFINITION_KINDS) {
    for (const path of fieldsOf(schemaOf(kind))) {
      if (named.test(path.join('.'))) continue;
      expect([kind, path.join('.'), fieldSchema(schemaOf(kind), path)?.title]).toEqual([
        kind,
        path.join('.'),
        expect.stringMatching(/^[A-Z]/),
      ]);
    }
  }
});

test('a title says where a field is only where that says more', () => {
  expect(fieldTitle('source', ['connection', 'port'])).toBe('Port');
  expect(fieldTitle('tag', ['settings', 'intervalMilliseconds'])).toBe('Interval');
  expect(fieldTitle('tag', ['address', 'area'])).toBe('Address · Area');
  expect(fieldTitle('tag', ['unheard'])).toBe('unheard');
  expect(fieldTitle('tag', [])).toBe('');
});

test('every kind of source says its connection, its address, its rungs and what it offers', () => {
  expect(SOURCE_KINDS).toEqual(Object.keys(KINDS));
  for (const [kind, { kind: own, words, connection, address, rungs, offers }] of Object.entries(KINDS)) {
    expect(own).toBe(kind);
    expect(words).not.toBe('');
    // What is not the collector itself has to be told where it is: behind a port, or in a folder.
    const isElsewhere = rungs.includes('port') || rungs.includes('folder');
    expect(Object.keys(connection.shape).length > 0).toBe(isElsewhere);
    expect(Object.keys(address.shape).length).toBeGreaterThan(0);
    expect(rungs.every((rung) => RUNGS.includes(rung))).toBe(true);
    // Values have to come somehow.
    expect(offers.poll || offers.subscribe).toBe(true);
  }
});

test('a source’s connection is checked by its kind, and nothing beside it is let in', () => {
  const source = { name: 'S', kind: 'modbus-tcp', paused: false, connection: { host: 'a', port: 502, unit: 1 } };
  expect(BODIES.source.safeParse(source).success).toBe(true);
  for (const wrong of [
    { ...source, kind: 'carrier-pigeon' },
    { ...source, connection: { ...source.connection, port: 70_000 } },
    { ...source, connection: { ...source.connection, loft: 7 } },
    { ...source, password: 'secret' },
  ]) {
    expect(BODIES.source.safeParse(wrong).success).toBe(false);
  }
});

test.each([
  ['a slash in a place', BODIES.place, { name: 'a / b', parent: null }],
  ['a retention of no month', BODIES.store, { name: 'S', retentionMonths: 0 }],
  [
    'an interval that nothing reads at',
    BODIES.pace,
    { name: 'P', intervalMilliseconds: 1, aligned: true, deadband: { kind: 'none' }, longestSilenceSeconds: null },
  ],
  [
    'a deadband of less than nothing',
    BODIES.pace,
    {
      name: 'P',
      intervalMilliseconds: 100,
      aligned: true,
      deadband: { kind: 'absolute', width: -1 },
      longestSilenceSeconds: null,
    },
  ],
  ['a name with a space', BODIES.tag, { name: 'A B', stepped: true, store: 1 }],
  ['a range upside down', BODIES.tag, { name: 'A', stepped: true, store: 1, low: 2, high: 1 }],
  ['a time without its offset', BODIES.tag, { name: 'A', stepped: true, store: 1, since: '2026-01-01 00:00' }],
])('%s is refused', (_, schema, body) => {
  expect(schema.safeParse(body).success).toBe(false);
});
