/** A service that answers in JSON over HTTP: what a connection and an address are made of. */
import { z } from 'zod';
import { clockFields } from './clock.ts';
import { describeKind } from './describe.ts';
import { secretNumber, timeout } from './fields.ts';
import { messageClock, messageExpression, messagePath } from './messages.ts';

export const HTTP_SIGN_INS = ['none', 'basic', 'bearer', 'header'] as const;

const request = z
  .string()
  .trim()
  .max(1000)
  .regex(/^\/[^\s#]*$/, 'begins with a slash and holds neither spaces nor #, such as /weather?station=7');

export const httpJsonConnection = z.strictObject({
  base: z
    .string()
    .trim()
    .max(500)
    .refine(
      (text) => /^https?:\/\/[^\s/?#]+$/.test(text) && URL.canParse(text),
      'has to be an address without a path, such as http://127.0.0.1:8080',
    )
    .default('http://127.0.0.1:8080')
    .meta({ title: 'Address', description: 'http://host:port' }),
  requests: z
    .array(request)
    .min(1)
    .max(100)
    .default(['/'])
    .meta({ title: 'Requests', description: 'that are looked through for tags, such as /weather' }),
  signIn: z.enum(HTTP_SIGN_INS).default('none').meta({ title: 'Sign in' }),
  user: z
    .string()
    .max(200)
    .regex(/^[^\r\n]*$/)
    .default('')
    .meta({ title: 'User', description: 'or the name of the header' }),
  password: secretNumber('Password'),
  expression: messageExpression,
  time: messagePath.default('').meta({ title: 'Time', description: 'its way in the answer; empty: when it comes' }),
  ...messageClock,
  status: messagePath.default('').meta({ title: 'Status', description: 'its way in the answer; empty: Good' }),
  next: messagePath.default('').meta({
    title: 'Next page',
    description: 'the way in an answer to the address of the next one, where answers come in pages',
  }),
  ...clockFields,
  timeoutMilliseconds: timeout(100, 5000),
});
export type HttpJsonConnection = z.infer<typeof httpJsonConnection>;

/** Where a value lies: in the answer to a request, at a way into it. */
export const httpJsonAddress = z.strictObject({
  request: request.meta({ title: 'Request' }),
  field: messagePath.default('').meta({ title: 'Field', description: 'its way in the answer' }),
  holdsSeconds: z
    .number()
    .int()
    .min(1)
    .max(604_800)
    .optional()
    .meta({ title: 'Holds', description: 's for which an answer is not asked for again; empty: as it says itself' }),
});
export type HttpJsonAddress = z.infer<typeof httpJsonAddress>;

export const httpJson = describeKind({
  kind: 'http-json',
  words: 'JSON over HTTP',
  connection: httpJsonConnection,
  address: httpJsonAddress,
  whither: ({ base }) => base,
  where: ({ request: asked, field }) => (field === '' ? asked : `${asked} ${field}`),
  rungs: ['name', 'port', 'answer', 'sign-in', 'browse', 'value'],
  offers: { poll: true, subscribe: false, browse: true, history: false, events: false, write: false },
});
