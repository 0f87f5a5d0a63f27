import { logbookCheck, logbookPage } from '@wide-ledger/contract';
import { DEFINITION_KINDS, formatInstant } from '@wide-ledger/core';
import { stringify } from 'csv-stringify';
import { z } from 'zod';
import { Calls, resolveWindow, rowNumber } from '../../ground/index.ts';
import type { Logbook } from './logbook.ts';

const query = z.object({
  from: z.string().optional(),
  to: z.string().optional(),
  search: z.string().max(200).default(''),
  kind: z.enum(DEFINITION_KINDS).optional(),
  item: rowNumber.optional(),
  cursor: rowNumber.optional(),
  limit: z.coerce.number().int().min(1).max(1000).default(200),
});

const COLUMNS = [
  'number',
  'at',
  'who',
  'whence',
  'act',
  'kind',
  'item',
  'name',
  'sentence',
  'old',
  'new',
  'version',
  'hash',
];

/** The logbook: looked through by time, words and item, taken along as CSV, and checked. */
export function logbookCalls(logbook: Logbook): Calls {
  const calls = new Calls();
  const asked = (given: unknown) => {
    const { from, to, cursor, ...rest } = query.parse(given);
    const window = from !== undefined && to !== undefined ? resolveWindow({ from, to }) : {};
    return { ...rest, ...window, ...(cursor === undefined ? {} : { below: cursor }) };
  };

  calls.on(
    {
      method: 'get',
      path: '/logbook',
      needs: 'admin',
      says: 'Everything anybody did, newest first; by time, words, and item',
      query,
      answer: logbookPage,
    },
    async (request, response) => {
      response.json(await logbook.list(withoutUndefined(asked(request.query))));
    },
  );

  calls.on(
    {
      method: 'get',
      path: '/logbook/check',
      needs: 'admin',
      says: 'Whether the logbook, and what it tells of, is whole and unaltered',
      answer: logbookCheck,
    },
    async (_request, response) => {
      response.json(await logbook.check());
    },
  );

  calls.on(
    {
      method: 'get',
      path: '/logbook/export',
      needs: 'admin',
      says: 'The same as CSV',
      query,
      answer: 'file',
    },
    async (request, response) => {
      const wanted = withoutUndefined(asked({ ...request.query, limit: 1000 }));
      response
        .type('text/csv')
        .set(
          'content-disposition',
          `attachment; filename="logbook-${formatInstant(Date.now() * 1000).slice(0, 10)}.csv"`,
        );
      const csv = stringify({ header: true, columns: COLUMNS, escape_formulas: true });
      csv.pipe(response);
      for (let below = wanted.below; ;) {
        const page = await logbook.list({ ...wanted, ...(below === undefined ? {} : { below }) });
        for (const { old, new: after, ...entry } of page.entries) {
          const text = (value: unknown): string => (value === null ? '' : JSON.stringify(value));
          if (!csv.write({ ...entry, old: text(old), new: text(after) })) {
            await new Promise((done) => csv.once('drain', done));
          }
        }
        if (page.next === undefined || response.closed) break;
        below = Number(page.next);
      }
      csv.end();
    },
  );
  return calls;
}

/** Members that are not there at all, instead of there and undefined. */
const withoutUndefined = <Given extends object>(given: Given) =>
  Object.fromEntries(Object.entries(given).filter(([, value]) => value !== undefined)) as {
    [Name in keyof Given]: Exclude<Given[Name], undefined>;
  };
