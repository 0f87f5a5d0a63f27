/** What kinds have in common whose values somebody else writes down: a record of rows, read on from where reading ended. */
import { z } from 'zod';
import { isZone } from '../common.ts';

const column = (title: string, description: string, standard: string) =>
  z.string().trim().max(200).default(standard).meta({ title, description });

const BEGINS = ['at its beginning', 'at its end'] as const;
/** Where reading a record begins. */
export const recordBegin = (standard: (typeof BEGINS)[number]) =>
  z.enum(BEGINS).default(standard).meta({ title: 'Begins', description: 'when it is read for the first time' });

/** Settings among those of a connection: how the record is laid out, and where reading it begins. */
export const recordFields = {
  time: column('Time column', 'holds the time of a row', 'time'),
  series: column('Name column', 'names whose value a row holds; empty: a column for each value', ''),
  value: column('Value column', 'where a name column says whose it is', 'value'),
  status: column('Status column', 'empty: Good', ''),
  statusIs: z
    .enum(['status', 'byte'])
    .default('status')
    .meta({ title: 'A status is', description: 'a name, number or word; or a byte: 192 Good, 64 Uncertain, 0 Bad' }),
  zone: z
    .string()
    .trim()
    .max(60)
    .refine(isZone, 'is not the name of a zone, such as Europe/Berlin or UTC')
    .default('UTC')
    .meta({ title: 'Zone', description: 'by whose clock times without an offset are' }),
  dates: z.enum(['ymd', 'dmy', 'mdy']).default('ymd').meta({ title: 'Dates', description: 'of such times' }),
  decimal: z.enum(['point', 'comma']).default('point').meta({ title: 'Decimal mark' }),
  begin: recordBegin('at its beginning'),
};

/** Where a value lies in a record: a column's name, or what the rows of its values are named by. */
export const recordAddress = z.strictObject({
  series: z.string().trim().min(1).max(500).meta({ title: 'Series', description: 'a column, or a name of its rows' }),
});
export type RecordAddress = z.infer<typeof recordAddress>;
