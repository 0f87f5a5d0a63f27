/** Another Wide Ledger, read by its HTTP interface: what a connection is made of, and what a source of this kind can do. */
import { z } from 'zod';
import { describeKind } from './describe.ts';
import { secretNumber, timeout } from './fields.ts';
import { recordBegin } from './records.ts';
import { recoveryFields } from './recovery.ts';

export const ledgerConnection = z.strictObject({
  url: z
    .string()
    .trim()
    .max(500)
    .refine(
      (text) => /^https?:\/\/[^\s/?#]+$/.test(text) && URL.canParse(text),
      'has to be an address without a path, such as https://kilnbank.example',
    )
    .default('http://127.0.0.1:4860')
    .meta({ title: 'Address', description: 'of the other site' }),
  key: secretNumber('Key').meta({ title: 'Key', description: 'that may read', secret: true }),
  looksBackMinutes: z
    .number()
    .int()
    .min(0)
    .max(15)
    .default(5)
    .meta({ title: 'Looks back', description: 'minutes, for what came late there; 0: not' }),
  begin: recordBegin('at its end'),
  ...recoveryFields,
  timeoutMilliseconds: timeout(200, 10_000),
});
export type LedgerConnection = z.infer<typeof ledgerConnection>;

/** Where a value lies: a tag of the other site. */
export const ledgerAddress = z.strictObject({
  tag: z.string().trim().min(1).max(200).meta({ title: 'Tag there' }),
});
export type LedgerAddress = z.infer<typeof ledgerAddress>;

export const ledger = describeKind({
  kind: 'ledger',
  words: 'Another Wide Ledger',
  connection: ledgerConnection,
  address: ledgerAddress,
  whither: ({ url }) => url,
  where: ({ tag }) => tag,
  rungs: ['name', 'port', 'answer', 'sign-in', 'browse', 'value', 'clock'],
  offers: { poll: true, subscribe: false, browse: true, history: true, events: false, write: false },
});
