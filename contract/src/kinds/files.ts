/** Files that somebody else writes into a folder: what a connection is made of, and what a source of this kind can do. */
import { z } from 'zod';
import { describeKind } from './describe.ts';
import { recordAddress, recordFields } from './records.ts';

export const FILE_SEPARATORS = ['by itself', 'comma', 'semicolon', 'tab', 'bar'] as const;

export const filesConnection = z.strictObject({
  folder: z
    .string()
    .trim()
    .max(1000)
    .regex(/^(\/[^\0]*)?$/, 'begins with a slash')
    .default('')
    .meta({ title: 'Folder', description: 'on the collector’s machine, among those that it may read' }),
  names: z
    .string()
    .trim()
    .min(1)
    .max(200)
    .regex(/^[^/\0]+$/, 'is a name, with * for anything')
    .default('*.csv')
    .meta({ title: 'Names', description: 'with * for anything and ? for a letter; .xlsx is read, too' }),
  sheet: z.string().trim().max(100).default('').meta({ title: 'Sheet', description: 'of workbooks; empty: the first' }),
  named: z.boolean().default(false).meta({
    title: 'Cells are named',
    description: 'in workbooks: each name is a column, and what has one cell holds for every row',
  }),
  linesBefore: z
    .number()
    .int()
    .min(0)
    .max(100)
    .default(0)
    .meta({ title: 'Lines before', description: 'the one that names the columns' }),
  header: z
    .boolean()
    .default(true)
    .meta({ title: 'Columns are named', description: 'by the first line; else they are column 1, column 2 …' }),
  unended: z.boolean().default(false).meta({
    title: 'Last line needs no end',
    description: 'read it once nothing was written for 10 s; only for files that are written in one go',
  }),
  separator: z.enum(FILE_SEPARATORS).default('by itself').meta({ title: 'Separator' }),
  ...recordFields,
});
export type FilesConnection = z.infer<typeof filesConnection>;

export const files = describeKind({
  kind: 'files',
  words: 'Files',
  connection: filesConnection,
  address: recordAddress,
  whither: ({ folder, names }) => `${names} in ${folder || 'no folder'}`,
  where: ({ series }) => series,
  rungs: ['folder', 'browse', 'value'],
  offers: { poll: true, subscribe: false, browse: true, history: false, events: false, write: false },
});
