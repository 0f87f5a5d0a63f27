/** What changed, made in what a collector has, gives what a server would have told it as a whole. */
import type { CollectorConfiguration, ConfigurationChanges } from '@wide-ledger/contract';
import fc from 'fast-check';
import { withChanges } from '../../src/configuration/changes.ts';

interface Told {
  readonly source: number;
  readonly name: string;
}
/** The tags that are read, by id. */
type Version = ReadonlyMap<number, Told>;

const SOURCES = [1, 2, 3];
const head = (id: number) => ({ id, name: `S${id}`, kind: 'invented' });

const whole = (version: number, tags: Version): CollectorConfiguration => ({
  version,
  stamp: `s${version}`,
  secrets: { 1: `of ${version}` },
  sources: SOURCES.map((id) => ({
    ...head(id),
    tags: [...tags].filter(([, { source }]) => source === id).map(([tag, { name }]) => ({ id: tag, name })),
  })),
});

const between = (before: Version, after: Version): ConfigurationChanges => ({
  since: 1,
  version: 2,
  stamp: 's2',
  secrets: { 1: 'of 2' },
  sources: SOURCES.map(head),
  tags: [...after]
    .filter(([id, told]) => JSON.stringify(before.get(id)) !== JSON.stringify(told))
    .map(([id, told]) => ({ id, ...told })),
  gone: [...before.keys()].filter((id) => !after.has(id)),
});

const inOrder = ({ sources, ...rest }: CollectorConfiguration): object => ({
  ...rest,
  sources: sources.map((source) => ({
    ...source,
    tags: [...(source as unknown as { tags: { id: number }[] }).tags].sort((a, b) => a.id - b.id),
  })),
});

const someVersion = fc
  .uniqueArray(fc.tuple(fc.integer({ min: 1, max: 12 }), fc.constantFrom(...SOURCES), fc.constantFrom('a', 'b')), {
    selector: ([id]) => id,
  })
  .map((tags): Version => new Map(tags.map(([id, source, name]) => [id, { source, name }])));

test('changes made in the old version give the new one, whatever moved, came or went', () => {
  fc.assert(
    fc.property(someVersion, someVersion, (before, after) => {
      expect(inOrder(withChanges(whole(1, before), between(before, after)))).toEqual(inOrder(whole(2, after)));
    }),
  );
});

test('changes of another version are refused', () => {
  const none: Version = new Map();
  expect(() => withChanges(whole(5, none), between(none, none))).toThrow('do not fit version 5');
});
