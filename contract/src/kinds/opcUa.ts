/** OPC UA: what a connection and an address are made of, and what a source of this kind can do. */
import { z } from 'zod';
import { clockFields } from './clock.ts';
import { describeKind } from './describe.ts';
import { secretNumber, timeout } from './fields.ts';
import { recoveryFields } from './recovery.ts';

/** Security policies of OPC UA Part 7 that are in use; the withdrawn ones (Basic128Rsa15, Basic256) are left out. */
export const OPC_UA_POLICIES = ['None', 'Basic256Sha256', 'Aes128_Sha256_RsaOaep', 'Aes256_Sha256_RsaPss'] as const;
export const OPC_UA_MODES = ['None', 'Sign', 'SignAndEncrypt'] as const;
export const OPC_UA_SIGN_INS = ['anonymous', 'user', 'certificate'] as const;

export const opcUaConnection = z.strictObject({
  endpoint: z
    .string()
    .trim()
    .max(500)
    .regex(/^opc\.tcp:\/\/[^\s/]+/, 'has to begin with opc.tcp:// and a host, such as opc.tcp://127.0.0.1:4840')
    .default('opc.tcp://127.0.0.1:4840')
    .meta({ title: 'Endpoint', description: 'opc.tcp://host:port' }),
  policy: z.enum(OPC_UA_POLICIES).default('None').meta({ title: 'Policy' }),
  mode: z.enum(OPC_UA_MODES).default('None').meta({ title: 'Security' }),
  signIn: z.enum(OPC_UA_SIGN_INS).default('anonymous').meta({ title: 'Sign in' }),
  user: z.string().max(200).default('').meta({ title: 'User' }),
  password: secretNumber('Password'),
  trusted: z
    .array(z.string().regex(/^[0-9A-F]{40}$/, 'is a SHA-1 fingerprint of 40 hexadecimal digits'))
    .max(20)
    .default([])
    .meta({ title: 'Trusts', description: 'fingerprints of certificates' }),
  acquire: z.enum(['subscribe', 'read', 'read from device']).default('subscribe').meta({ title: 'Acquire' }),
  publishingMilliseconds: z
    .number()
    .int()
    .min(50)
    .max(60_000)
    .default(500)
    .meta({ title: 'Publish every', description: 'ms' }),
  queueSize: z.number().int().min(1).max(10_000).default(20).meta({ title: 'Queue a tag' }),
  serverDeadband: z
    .boolean()
    .optional()
    .meta({ title: 'Deadband', description: 'kept by the server already, where it can' }),
  ...clockFields,
  timeoutMilliseconds: timeout(200, 5000),
  ...recoveryFields,
});
export type OpcUaConnection = z.infer<typeof opcUaConnection>;

/** Where a value lies in an OPC UA server: a node's Value attribute, or one element of it. */
export const opcUaAddress = z.strictObject({
  node: z
    .string()
    .trim()
    .max(1000)
    .regex(/^(ns=\d+;)?[isgb]=.+$/, 'is a node id, such as ns=2;s=Pump1.Pressure')
    .meta({ title: 'Node', description: 'ns=2;s=…' }),
  element: z
    .string()
    .trim()
    .max(200)
    .regex(/^(\[\d+\]|\.?[A-Za-z_]\w*)*$/, 'is a way into the value, such as [3] or Phase.Current[0]')
    .default('')
    .meta({ title: 'Element', description: 'of an array or a structure, such as [3]' }),
});
export type OpcUaAddress = z.infer<typeof opcUaAddress>;

export const opcUa = describeKind({
  kind: 'opc-ua',
  words: 'OPC UA',
  connection: opcUaConnection,
  address: opcUaAddress,
  whither: ({ endpoint, policy, mode }) =>
    policy === 'None' || mode === 'None' ? endpoint : `${endpoint}, ${mode === 'Sign' ? 'signed' : 'encrypted'}`,
  where: ({ node, element }) => (element === '' ? node : `${node} ${element}`),
  rungs: ['name', 'port', 'answer', 'channel', 'sign-in', 'browse', 'value', 'clock'],
  offers: { poll: true, subscribe: true, browse: true, history: true, events: false, write: true },
});
