/** Modified history: what was replaced or removed, with what it was before, when, by whom and why. */
import { describeStatus, originName } from '@wide-ledger/core';
import type { Stores } from '../../stores/stores.ts';
import type { Answer, Column, Row } from '../formats/table.ts';
import { outputValue } from '../../values/output.ts';
import type { ReadTag } from '../readTag.ts';
import type { ModifiedRequest, Asker } from '../requests.ts';
import { TAG_COLUMN, sampleColumns } from './columns.ts';
import { askLedger } from './pieces.ts';

const columnsOf = (tags: readonly ReadTag[]): Column[] => [
  ...sampleColumns(tags),
  { name: 'kind', kind: 'text' },
  { name: 'modifiedAt', kind: 'time' },
  { name: 'modifiedBy', kind: 'text' },
  { name: 'reason', kind: 'text' },
];

/** Displaced samples of a window with who, when and why. */
export function modifiedAnswer(stores: Stores, request: ModifiedRequest, asker: Asker): Answer {
  const { named } = request;
  return {
    tables: request.tags.map((tag) => ({
      name: named ? 'modified' : tag.name,
      columns: named ? [TAG_COLUMN, ...columnsOf(request.tags)] : columnsOf([tag]),
      batches: modifiedOf(stores, request, tag, named, asker),
    })),
    list: 'samples',
    head: request.echo,
    foot: () => ({}),
  };
}

interface ModifiedRow {
  time: number;
  value: number | null;
  text: string | null;
  status: number;
  origin: number;
  kind: string;
  modified_at: Date;
  modified_by: string;
  reason: string | null;
}

async function* modifiedOf(
  stores: Stores,
  { from, to }: ModifiedRequest,
  tag: ReadTag,
  named: boolean,
  asker: Asker,
): AsyncGenerator<Row[]> {
  if (asker.gone) return;
  const rows = await askLedger(stores, tag, async (ledger) => {
    const posted = await ledger.rows<ModifiedRow>(
      `SELECT time, value, text, status, origin, kind, modified_at, modified_by, reason FROM modified_sample
       WHERE tag_id = $1 AND time >= $2 AND time < $3`,
      [tag.id, from, to],
    );
    const { displaced, blocks } = await ledger.displacedByFresh(from, to);
    const waitingToBePosted = displaced.map((one): ModifiedRow => {
      const { writer, received_at, reason } = ledger.fresh[one.by - blocks]!.entry;
      const text = one.text ?? one.whole?.toString() ?? null;
      return { ...one, text, modified_at: received_at, modified_by: writer, reason };
    });
    return [...posted, ...waitingToBePosted];
  });
  rows.sort((a, b) => a.time - b.time || a.modified_at.getTime() - b.modified_at.getTime());
  yield rows.map((row) => {
    // A whole number beyond what a double holds is kept as text beside its double.
    const whole = tag.type === 'integer' && row.text !== null ? BigInt(row.text) : null;
    const sample = [
      row.time,
      outputValue(tag, row.value ?? NaN, row.text, row.status, whole),
      row.status,
      describeStatus(row.status),
      originName(row.origin),
      row.kind,
      row.modified_at.getTime() * 1000,
      row.modified_by,
      row.reason,
    ];
    return named ? [tag.name, ...sample] : sample;
  });
}
