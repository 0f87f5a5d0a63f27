/** The bodies of definitions: what each kind of definition consists of. References are numbers; secrets are never here. */
import { z } from 'zod';
import { collectorName, instant, rowId, tagName } from '../common.ts';
import { itself, modbusTcp, opcUa, sourceAddress } from '../kinds/index.ts';
import { sourceName } from '../sources.ts';
import { TAG_TYPES, counterNature, paceSettings, scaling, tagAggregateConfiguration } from '../tags.ts';

const number = rowId;
const label = z.string().trim().min(1).max(80);

export const placeBody = z.strictObject({
  name: label.regex(/^[^/]+$/, 'may not hold a slash').meta({ title: 'Name' }),
  parent: number.nullable().default(null).meta({ title: 'Lies in' }),
});

export const paceBody = z.strictObject({
  name: label.meta({ title: 'Name' }),
  description: z.string().max(400).default('').meta({ title: 'Description' }),
  ...paceSettings.shape,
});

export const storeBody = z.strictObject({
  name: label.meta({ title: 'Name' }),
  retentionMonths: number.max(1200).nullable().default(null).meta({ title: 'Months kept' }),
});

const sourceBase = z.strictObject({
  name: sourceName.meta({ title: 'Name' }),
  collector: collectorName.optional().meta({ title: 'Collector', description: 'that reads it; empty: any' }),
  standby: collectorName.optional().meta({
    title: 'Standby',
    description: 'another collector that reads it, too, and records when the first does not',
  }),
  paused: z.boolean().default(false).meta({ title: 'Paused' }),
});

/** Where a standby reads a copy of the source. */
const STANDBY_CONNECTION = {
  title: 'Standby’s way',
  description: 'to a copy of the source; without: the same',
  beginsAs: 'connection',
};

/** A source of any kind, its connection as its kind wants it. */
export const sourceBody = z.discriminatedUnion('kind', [
  sourceBase.extend({
    kind: z.literal(modbusTcp.kind).meta({ title: 'Kind' }),
    connection: modbusTcp.connection.meta({ title: 'Connection' }),
    standbyConnection: modbusTcp.connection.nullable().optional().meta(STANDBY_CONNECTION),
  }),
  sourceBase.extend({
    kind: z.literal(opcUa.kind).meta({ title: 'Kind' }),
    connection: opcUa.connection.meta({ title: 'Connection' }),
    standbyConnection: opcUa.connection.nullable().optional().meta(STANDBY_CONNECTION),
  }),
  sourceBase.extend({
    kind: z.literal(itself.kind).meta({ title: 'Kind' }),
    connection: itself.connection.meta({ title: 'Connection' }),
  }),
]);

export const tagBody = z
  .strictObject({
    name: tagName.meta({ title: 'Name' }),
    type: z.enum(TAG_TYPES).default('real').meta({ title: 'Type' }),
    unit: z.string().max(40).default('').meta({ title: 'Unit' }),
    description: z.string().max(400).default('').meta({ title: 'Description' }),
    place: number.nullable().default(null).meta({ title: 'Place' }),
    stepped: z.boolean().meta({ title: 'Holds between values' }),
    low: z.number().nullable().default(null).meta({ title: 'Range from' }),
    high: z.number().nullable().default(null).meta({ title: 'Range to' }),
    states: z.record(z.string(), z.string()).nullable().default(null).meta({ title: 'States' }),
    store: number.meta({ title: 'Store' }),
    source: number.nullable().default(null).meta({ title: 'Source' }),
    address: sourceAddress.nullable().default(null).meta({ title: 'Address' }),
    standbyAddress: sourceAddress.nullable().optional().meta({ title: 'Standby’s address' }),
    scaling: scaling.nullable().default(null).meta({ title: 'Scaling' }),
    pace: number.nullable().default(null).meta({ title: 'Pace' }),
    /** Settings of its own: all that count without a pace, else the ones in which it departs from it. */
    settings: paceSettings.partial().default({}).meta({ title: 'Settings of its own' }),
    paused: z.boolean().default(false).meta({ title: 'Paused' }),
    aggregateConfiguration: tagAggregateConfiguration.nullable().default(null).meta({ title: 'Aggregates' }),
    counter: counterNature.nullable().default(null).meta({ title: 'Counter' }),
    /** Whether people who may operate the plant may write to it; without: no. */
    writable: z.boolean().optional().meta({ title: 'Writable' }),
    /** From when it was meant to be collected, where that is before it was put in force. */
    since: instant.nullable().default(null).meta({ title: 'Collected since' }),
  })
  .refine(
    ({ low, high }) => low === null || high === null || low < high,
    'The range is upside down: low has to lie below high.',
  );
export type TagBody = z.infer<typeof tagBody>;

const shortText = z.string().max(120);

/** How tags are called at the far end: rules one after the other, and single names that count instead. */
export const linkNaming = z.strictObject({
  rules: z
    .array(
      z.discriminatedUnion('kind', [
        z.strictObject({ kind: z.literal('prefix'), text: shortText }),
        z.strictObject({ kind: z.literal('replace'), find: shortText.min(1), by: shortText }),
        z.strictObject({ kind: z.literal('pattern'), pattern: shortText.min(1) }),
      ]),
    )
    .max(20)
    .default([])
    .meta({ title: 'Rules' }),
  single: z.record(z.string(), shortText).default({}).meta({ title: 'Single names' }),
});

/** What is carried: searches that add up. */
export const linkSelection = z.strictObject({
  search: z.string().max(200).default(''),
  place: z.string().max(200).default(''),
});

/** Where another site answers. */
export const siteAddress = z
  .string()
  .trim()
  .max(500)
  .refine(
    (text) => /^https?:\/\/[^\s/?#]+\/?$/.test(text) && URL.canParse(text),
    'has to be an address such as https://region.example:4860',
  );

export const linkBody = z.strictObject({
  name: label.meta({ title: 'Name' }),
  url: siteAddress.meta({ title: 'Far end' }),
  key: number.meta({ title: 'Key', secret: true }),
  carries: z.array(linkSelection).max(100).default([]).meta({ title: 'Carries' }),
  naming: linkNaming.default({ rules: [], single: {} }).meta({ title: 'Naming' }),
  paused: z.boolean().default(false).meta({ title: 'Paused' }),
});
export type LinkBody = z.infer<typeof linkBody>;

export const BODIES = {
  place: placeBody,
  pace: paceBody,
  store: storeBody,
  source: sourceBody,
  tag: tagBody,
  link: linkBody,
} as const;
