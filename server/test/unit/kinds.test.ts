/** What the kinds of sources ask of changes, beside what the configuration itself asks. */
import type { Body, Change, Standing } from '@wide-ledger/core';
import { kindFindings } from '../../src/configuration/force/kinds.ts';

const controller: Body = { name: 'K', kind: 'opc-ua', connection: { endpoint: 'opc.tcp://127.0.0.1:4840' } };
const standing: Standing = {
  body: (kind, id) => (kind === 'source' && id === 1 ? controller : null),
} as Partial<Standing> as Standing;

const found = (...changes: Partial<Change>[]): string[] =>
  kindFindings(
    changes.map((change) => ({ id: 1, before: null, after: null, fields: [], ...change }) as unknown as Change),
    standing,
  ).map(({ kind, id, path, severity }) => `${kind} ${id} ${path.join('.')} ${severity}`);

const tag = (after: Body): Partial<Change> => ({ kind: 'tag', id: 5, after });

test('a tag’s address is one of its source’s kind, in force or drafted beside it', () => {
  expect(found(tag({ source: 1, address: { node: 'i=2258' } }))).toEqual([]);
  expect(found(tag({ source: 1, address: { area: 'holding', address: 4 } }))).toEqual(['tag 5 address blocks']);
  expect(found(tag({ source: 1, address: { figure: 'waiting' } }))).toEqual(['tag 5 address blocks']);
  expect(found(tag({ source: 1, address: null }))).toEqual([]);
  const drafted: Partial<Change> = {
    kind: 'source',
    id: 2,
    after: { name: 'C', kind: 'collector', collector: 'east', connection: {} },
  };
  expect(found(drafted, tag({ source: 2, address: { figure: 'waiting' } }))).toEqual([]);
  expect(found(drafted, tag({ source: 2, address: { node: 'i=2258' } }))).toEqual(['tag 5 address blocks']);
});

test('a source stays of its kind, and one that is a collector says which', () => {
  expect(found({ kind: 'source', before: controller, after: { ...controller, kind: 'modbus-tcp' } })).toEqual([
    'source 1 kind blocks',
  ]);
  expect(found({ kind: 'source', before: controller, after: { ...controller, name: 'L' } })).toEqual([]);
  const itself: Body = { name: 'C', kind: 'collector', connection: {} };
  expect(found({ kind: 'source', id: 2, after: itself })).toEqual(['source 2 collector blocks']);
  expect(found({ kind: 'source', id: 2, after: { ...itself, collector: 'east' } })).toEqual([]);
});
