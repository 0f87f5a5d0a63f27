/** A table of another logger, asked in SQL: what a connection is made of, and what a source of this kind can do. */
import { z } from 'zod';
import { describeKind } from './describe.ts';
import { secretNumber, timeout } from './fields.ts';
import { recordAddress, recordFields } from './records.ts';

export const SQL_ENGINES = ['postgresql'] as const;

export const sqlConnection = z.strictObject({
  engine: z.enum(SQL_ENGINES).default('postgresql').meta({ title: 'Database is' }),
  host: z.string().trim().max(253).default('').meta({ title: 'Host', description: 'empty: this machine' }),
  port: z.number().int().min(1).max(65_535).default(5432).meta({ title: 'Port' }),
  database: z.string().trim().max(63).default('').meta({ title: 'Database' }),
  user: z.string().trim().max(63).default('').meta({ title: 'User', description: 'one that can only read' }),
  password: secretNumber('Password'),
  encrypted: z.boolean().default(false).meta({ title: 'TLS', description: 'its certificate is checked' }),
  authority: z.string().max(100_000).default('').meta({
    title: 'Authority',
    description: 'certificate (PEM) of who signed the database’s; empty: those of the system',
  }),
  query: z
    .string()
    .trim()
    .max(10_000)
    .refine((text) => !text.includes(';'), 'is one query, without a semicolon')
    .default('SELECT * FROM history')
    .meta({ title: 'Query', description: 'its rows are read, each once', long: true }),
  progress: z
    .string()
    .trim()
    .max(200)
    .default('')
    .meta({ title: 'Progress column', description: 'that grows with each row, such as its number; empty: the time' }),
  delaySeconds: z
    .number()
    .int()
    .min(0)
    .max(86_400)
    .default(5)
    .meta({ title: 'Delay', description: 's for which rows are left alone: others before them may be committed late' }),
  ...recordFields,
  timeoutMilliseconds: timeout(200, 10_000),
});
export type SqlConnection = z.infer<typeof sqlConnection>;

export const sql = describeKind({
  kind: 'sql',
  words: 'SQL table',
  connection: sqlConnection,
  address: recordAddress,
  whither: ({ host, port, database }) => `${host || '127.0.0.1'}:${port}/${database}`,
  where: ({ series }) => series,
  rungs: ['name', 'port', 'sign-in', 'browse', 'value'],
  offers: { poll: true, subscribe: false, browse: true, history: false, events: false, write: false },
});
