/** Far ends that are no site of Wide Ledger: what a link to each is made of. Forms are drawn from these. */
import { MQTT_TOPIC_FIELDS } from '@wide-ledger/core';
import { z } from 'zod';
import { secretNumber, topicLevel } from '../kinds/fields.ts';

const host = z.string().trim().min(1).max(253).meta({ title: 'Host' });
const port = z.number().int().min(1).max(65_535);

/** A name of SQL as it is written without quotes, so that nobody has to quote it; also with its schema before a dot. */
const SQL_NAME = '[a-z_][a-z0-9_]{0,50}';
const column = (title: string, standard: string) =>
  z
    .string()
    .regex(new RegExp(`^${SQL_NAME}$`), 'has to be small letters, digits and underscores')
    .default(standard)
    .meta({ title });
const columnOrNone = (title: string, standard: string) =>
  column(title, standard).nullable().meta({ title, description: 'empty: none' });

/** A table of a PostgreSQL database: a row for each value that stands. */
export const sqlTableEnd = z.strictObject({
  kind: z.literal('sql-table'),
  host,
  port: port.default(5432).meta({ title: 'Port' }),
  database: z.string().trim().min(1).max(63).meta({ title: 'Database' }),
  user: z.string().trim().min(1).max(63).meta({ title: 'User' }),
  password: secretNumber('Password'),
  encrypted: z.boolean().default(false).meta({ title: 'TLS', description: 'its certificate is checked' }),
  table: z
    .string()
    .regex(new RegExp(`^(${SQL_NAME}\\.)?${SQL_NAME}$`), 'has to be a name such as history or plant.history')
    .meta({ title: 'Table', description: 'made where there is none' }),
  columns: z
    .strictObject({
      time: column('Time', 'time'),
      tag: column('Tag', 'tag'),
      value: column('Value', 'value'),
      text: columnOrNone('Text', 'text_value'),
      status: columnOrNone('Status', 'status'),
      quality: columnOrNone('Quality', 'quality'),
      unit: columnOrNone('Unit', 'unit'),
      place: columnOrNone('Place', 'place'),
    })
    .prefault({})
    .refine((columns) => {
      const names = Object.values(columns).filter((name) => name !== null);
      return new Set(names).size === names.length;
    }, 'Two columns have one name.')
    .meta({ title: 'Columns' }),
});
export type SqlTableEnd = z.infer<typeof sqlTableEnd>;

export const FILE_END_FORMATS = ['csv', 'parquet'] as const;

/** Files in the server's data folder, one for each day, with a manifest of what is in them. */
export const filesEnd = z.strictObject({
  kind: z.literal('files'),
  folder: z
    .string()
    .regex(/^[A-Za-z0-9][A-Za-z0-9_-]{0,60}$/, 'has to be letters, digits, dash and underscore')
    .meta({ title: 'Folder', description: 'within “carried” of the data folder' }),
  format: z.enum(FILE_END_FORMATS).default('parquet').meta({ title: 'Format' }),
  settleMinutes: z
    .number()
    .int()
    .min(0)
    .max(1440)
    .default(10)
    .meta({ title: 'Settles', description: 'minutes after a day has ended, before it is written' }),
});
export type FilesEnd = z.infer<typeof filesEnd>;

/** How a broker is reached and signed in to. */
const brokerPlace = {
  host,
  port: port.default(1883).meta({ title: 'Port' }),
  encrypted: z.boolean().default(false).meta({ title: 'TLS', description: 'its certificate is checked' }),
  user: z.string().max(200).default('').meta({ title: 'User', description: 'empty: nobody' }),
  password: secretNumber('Password'),
};

/** An MQTT broker: a message for each value. */
export const brokerEnd = z.strictObject({
  kind: z.literal('mqtt'),
  ...brokerPlace,
  topic: z
    .string()
    .min(1)
    .max(300)
    .refine((topic) => !/[#+\0]/.test(topic), 'may not hold # or +')
    .default('wide-ledger/{place}/{name}')
    .meta({ title: 'Topic', description: `with ${MQTT_TOPIC_FIELDS.map((field) => `{${field}}`).join(', ')}` }),
  payload: z.string().min(1).max(2000).default('{"time":{time},"value":{value},"status":{status},"unit":{unit}}').meta({
    title: 'Message',
    description: 'with {time}, {value}, {status}, {quality}, {name}, {place}, {unit} as JSON',
  }),
  retain: z
    .boolean()
    .default(false)
    .meta({ title: 'Retained', description: 'the broker keeps the last of each topic' }),
});
export type BrokerEnd = z.infer<typeof brokerEnd>;

/** An edge node of Sparkplug B: a metric for each tag. */
export const sparkplugEnd = z.strictObject({
  kind: z.literal('sparkplug'),
  ...brokerPlace,
  group: topicLevel('Group').min(1),
  edge: topicLevel('Edge node').min(1),
});
export type SparkplugEnd = z.infer<typeof sparkplugEnd>;

export const otherEnd = z.discriminatedUnion('kind', [sqlTableEnd, filesEnd, brokerEnd, sparkplugEnd]);
export type OtherEnd = z.infer<typeof otherEnd>;
export type OtherEndKind = OtherEnd['kind'];

/** What people are told of each. */
export const OTHER_ENDS: Readonly<
  Record<OtherEndKind, { readonly words: string; readonly says: string; readonly schema: z.ZodType }>
> = {
  'sql-table': {
    words: 'a table of PostgreSQL',
    says: 'A row for each value that stands: late and corrected ones are written over, removed ones go.',
    schema: sqlTableEnd,
  },
  files: {
    words: 'files by day',
    says: 'One file for each day, in UTC, once it is over, and again when something late comes for it; with a manifest.',
    schema: filesEnd,
  },
  mqtt: {
    words: 'an MQTT broker',
    says: 'A message for each value as it comes. What was on its way when this server was killed comes twice.',
    schema: brokerEnd,
  },
  sparkplug: {
    words: 'an edge node of Sparkplug B',
    says: 'Born with the carried tags, then a message for what comes. Times are cut to milliseconds.',
    schema: sparkplugEnd,
  },
};
