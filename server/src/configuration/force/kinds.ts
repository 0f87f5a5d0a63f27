/** What kinds of sources ask of changes: addresses that fit, a source that stays what it is, and whose it is. Pure. */
import { KINDS, addressFits, itself, type SourceKind } from '@wide-ledger/contract';
import type { Body, Change, Finding, Standing } from '@wide-ledger/core';

/** Findings that block: a tag's address of another kind than its source, a source that becomes another kind. */
export function kindFindings(changes: readonly Change[], standing: Standing): Finding[] {
  const drafted = new Map(changes.flatMap(({ kind, id, after }) => (kind === 'source' ? [[id, after] as const] : [])));
  const sourceOf = (tag: Body): Body | null | undefined => {
    const { source } = tag;
    if (typeof source !== 'number') return undefined;
    return drafted.has(source) ? drafted.get(source) : standing.body('source', source);
  };
  return changes.flatMap(({ kind, id, before, after }): Finding[] => {
    const blocks = (path: string, sentence: string): Finding[] => [
      { kind, id, path: [path], severity: 'blocks', sentence },
    ];
    if (!after || (kind === 'tag' && after.address === null)) return [];
    if (kind === 'source' && before && before.kind !== after.kind)
      return blocks('kind', 'A source stays of its kind. Make a new source, and move its tags there.');
    if (kind === 'source' && after.kind === itself.kind && typeof after.collector !== 'string')
      return blocks('collector', 'Name the collector: what one says about itself is read by itself alone.');
    if (kind === 'source' && typeof after.standby === 'string') {
      const { collector, standby } = after;
      if (after.kind === itself.kind)
        return blocks('standby', 'What a collector says about itself is read by itself alone: it has no standby.');
      if (typeof collector !== 'string')
        return blocks('standby', 'Name the collector that reads it, too: without one, all of them stand ready.');
      if (collector === standby)
        return blocks('standby', 'The standby is another collector than the one that reads it.');
    }
    const of = kind === 'tag' ? sourceOf(after)?.kind : undefined;
    if (typeof of !== 'string' || !(of in KINDS)) return [];
    const wrong = (['address', 'standbyAddress'] as const).filter(
      (field) => (after[field] ?? null) !== null && !addressFits(of, after[field]),
    );
    return wrong.flatMap((field) =>
      blocks(field, `The address is not one of ${KINDS[of as SourceKind].words}. Give it as its source has it.`),
    );
  });
}
