/** Files brought in: what was understood of them, a rehearsal, and what became of every value. */
import { COLUMN_ROLES } from '@wide-ledger/core';
import { z } from 'zod';

const doubled = z.enum(['first', 'second']).optional().meta({
  description: 'which is meant of an hour that the clock shows twice, where the order of the rows does not tell',
});
const timeFormat = z.discriminatedUnion('kind', [
  z.strictObject({ kind: z.literal('instant') }),
  z.strictObject({ kind: z.literal('clock'), order: z.enum(['ymd', 'dmy', 'mdy', 'undecided']), doubled }),
  z.strictObject({ kind: z.literal('serial'), doubled }),
  z.strictObject({ kind: z.literal('epoch'), micros: z.number().positive() }),
]);

/** How one column is read. What is undecided is set aside wherever it can be read in two ways. */
export const columnPlan = z.strictObject({
  name: z.string(),
  role: z.enum(COLUMN_ROLES),
  time: timeFormat.optional(),
  decimal: z.enum(['point', 'comma', 'undecided']).optional(),
  quality: z.enum(['status', 'byte', 'undecided']).optional(),
  tag: z.string().nullable().optional(),
});

export const understoodColumn = columnPlan.extend({
  sentence: z.string(),
  doubtful: z.boolean(),
  examples: z.array(z.string()),
});
export type UnderstoodColumnOutput = z.infer<typeof understoodColumn>;

export const importPlan = z.strictObject({
  zone: z.string().default('UTC'),
  columns: z.array(columnPlan).min(1).max(2000),
  overlap: z.enum(['fill', 'replace']).default('replace').meta({
    description: 'all of it: where values differ the old ones go to the modified history; or only where nothing is',
  }),
});
export type ImportPlan = z.infer<typeof importPlan>;

/** What became, or would become, of the values of a file. */
export const importReport = z.object({
  rows: z.number(),
  values: z.number(),
  /** New values, and those that take the place of another one; the same value again changes nothing. */
  accepted: z.number(),
  replaced: z.number(),
  unchanged: z.number(),
  setAside: z.number(),
  leftAlone: z.number().optional().meta({ description: 'where only holes are filled: values that lie in none' }),
  /** The first of those set aside. */
  reasons: z.array(z.object({ row: z.number(), tag: z.string(), value: z.string(), reason: z.string() })),
});
export type ImportReport = z.infer<typeof importReport>;

export const importedFile = z.object({
  id: z.string(),
  name: z.string(),
  state: z.enum(['understood', 'running', 'done', 'stopped', 'failed']),
  sentence: z.string(),
  zone: z.string(),
  /** The sheet of a workbook that was asked for, and the sheets that it has. */
  sheet: z.string().nullable(),
  sheets: z.array(z.string()),
  columns: z.array(understoodColumn),
  report: importReport.nullable(),
});
export type ImportedFile = z.infer<typeof importedFile>;
