/** The newest values of a few tags, as the rows or messages that a far end would get. */
import type { CarriedTag, LinkTry, OtherEnd, linkTryAsked } from '@wide-ledger/contract';
import { DAY, chosenTags, farNames, payloadOf, topicOf } from '@wide-ledger/core';
import type { z } from 'zod';
import { standingOf, type Archive } from '../../archive/index.ts';
import type { Catalogue } from '../../configuration/index.ts';
import { nowMicros } from '../../ground/index.ts';
import { asCarried } from './carriedTags.ts';
import { toldOf } from './far/brokerEnd.ts';
import { cellOf } from './far/sqlShape.ts';
import { qualityOf, rowAt, timeOf, type Row } from './far/toldRows.ts';

const ROWS = 10;
/** Tags that are looked at for rows. */
const TAGS = 20;

export async function triedRows(
  catalogue: Catalogue,
  { stores }: Pick<Archive, 'stores'>,
  { to, carries, naming }: z.infer<typeof linkTryAsked>,
): Promise<LinkTry> {
  await catalogue.refresh();
  const named = farNames(chosenTags(catalogue.tags, carries), naming).filter(({ problem }) => problem === null);
  const now = nowMicros();
  const rows: Row[] = [];
  for (const [i, { tag, farName }] of named.slice(0, TAGS).entries()) {
    if (rows.length >= ROWS) break;
    const told: CarriedTag = asCarried(i + 1, farName, tag);
    const frame = await standingOf(stores, tag, { from: now - DAY, to: now });
    if (frame && frame.times.length > 0) rows.push(rowAt(told, frame, frame.times.length - 1));
  }
  const says =
    rows.length === 0
      ? 'None of the chosen tags has a value of the last day.'
      : `The newest value of ${rows.length} of ${named.length} tags. Nothing was sent.`;
  return { says, ...shownFor(to, rows) };
}

const valueOf = ({ text, value }: Row): string => text ?? String(value ?? '');

function shownFor(to: OtherEnd, rows: readonly Row[]): Pick<LinkTry, 'columns' | 'rows'> {
  switch (to.kind) {
    case 'mqtt':
      return {
        columns: ['topic', 'message'],
        rows: rows.map((row) => [topicOf(to.topic, row.tag), payloadOf(to.payload, toldOf(row))]),
      };
    case 'sparkplug':
      return {
        columns: ['metric', 'time', 'value', 'quality'],
        rows: rows.map((row) => [row.tag.name, timeOf(row), valueOf(row), qualityOf(row)]),
      };
    case 'sql-table': {
      const columns = (Object.keys(to.columns) as (keyof typeof to.columns)[]).filter(
        (one) => to.columns[one] !== null,
      );
      return {
        columns: columns.map((column) => to.columns[column]!),
        rows: rows.map((row) =>
          columns.map((column) => (column === 'time' ? timeOf(row) : (cellOf(column, row) ?? ''))),
        ),
      };
    }
    case 'files':
      return {
        columns: ['tag', 'time', 'value', 'quality'],
        rows: rows.map((row) => [row.tag.name, timeOf(row), valueOf(row), qualityOf(row)]),
      };
  }
}
