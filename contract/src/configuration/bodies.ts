/** The bodies of definitions: what each kind of definition consists of. References are numbers; secrets are never here. */
import { ROSTER_WAYS, SUMMARY_AGGREGATES, summaryInterval, summaryName } from '@wide-ledger/core';
import { z } from 'zod';
import { otherEnd } from './farEnds.ts';
import { collectorName, instant, rowId, tagName } from '../common.ts';
import {
  files,
  httpJson,
  itself,
  ledger,
  modbusTcp,
  mqtt,
  opcUa,
  sourceAddress,
  sparkplug,
  sql,
} from '../kinds/index.ts';
import { sourceName } from '../sources.ts';
import {
  TAG_TYPES,
  counterNature,
  formula,
  inputName,
  labelName,
  labels,
  paceSettings,
  scaling,
  tagAggregateConfiguration,
} from '../tags.ts';

const number = rowId;
const label = z.string().trim().min(1).max(80);

/** What names of tags in a place have to be like. */
const namingRules = z.strictObject({
  begins: z.string().max(40).default('').meta({ title: 'Begin with' }),
  signs: z
    .string()
    .max(20)
    .regex(/^[^\p{L}\d]*$/u, 'holds signs, no letters or digits')
    .nullable()
    .default(null)
    .meta({ title: 'Signs', description: 'that a name may hold beside letters A to Z and digits; empty: any' }),
  capitals: z.boolean().default(false).meta({ title: 'Capital letters only' }),
  longest: z.int().min(1).max(120).nullable().default(null).meta({ title: 'Most characters' }),
  letters: z
    .boolean()
    .default(false)
    .meta({ title: 'Letters by ISA-5.1', description: 'those before the number say what the instrument does' }),
  binding: z
    .boolean()
    .default(false)
    .meta({ title: 'Binding', description: 'a new or changed name that breaks these cannot be put in force' }),
});

export const placeBody = z.strictObject({
  name: label.regex(/^[^/]+$/, 'may not hold a slash').meta({ title: 'Name' }),
  parent: number.nullable().default(null).meta({ title: 'Lies in' }),
  names: namingRules.nullable().optional().meta({
    title: 'Names of tags',
    description: 'rules for tags here, and in places within that have none of their own',
  }),
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

/** Where a standby reads a copy of the source, or its collector where the first way does not lead to it. */
const STANDBY_CONNECTION = {
  title: 'Second way',
  description: 'to the source or a copy of it, for when the first does not answer; where there is a standby: its own',
  beginsAs: 'connection',
};
const changeOverSeconds = number.max(3600).optional().meta({
  title: 'Second way after',
  description: 's without an answer by the first; empty: 3',
});
const staysOver = z.boolean().optional().meta({
  title: 'Stays on the second way',
  description: 'until somebody says otherwise; else it goes back to the first once that answers',
});

/** A source of a kind that a standby may read, too. */
const bodyOf = <Kind extends string, Connection extends z.ZodObject>(kind: Kind, connection: Connection) =>
  sourceBase.extend({
    kind: z.literal(kind).meta({ title: 'Kind' }),
    connection: connection.meta({ title: 'Connection' }),
    standbyConnection: connection.nullable().optional().meta(STANDBY_CONNECTION),
    changeOverSeconds,
    staysOver,
  });

/** A source of any kind, its connection as its kind wants it. */
export const sourceBody = z.discriminatedUnion('kind', [
  bodyOf(modbusTcp.kind, modbusTcp.connection),
  bodyOf(opcUa.kind, opcUa.connection),
  bodyOf(mqtt.kind, mqtt.connection),
  bodyOf(sparkplug.kind, sparkplug.connection),
  bodyOf(httpJson.kind, httpJson.connection),
  bodyOf(sql.kind, sql.connection),
  bodyOf(files.kind, files.connection),
  bodyOf(ledger.kind, ledger.connection),
  sourceBase.extend({
    kind: z.literal(itself.kind).meta({ title: 'Kind' }),
    connection: itself.connection.meta({ title: 'Connection' }),
  }),
]);

/** Alike tags described once. Its patterns are texts of cells, by the paths of fields: `settings.deadband.width`. */
export const familyBody = z.strictObject({
  name: label.meta({ title: 'Name' }),
  description: z.string().max(400).default('').meta({ title: 'Description' }),
  cells: z.record(z.string().min(1).max(120), z.string().max(400)).meta({ title: 'Patterns' }),
  roster: z
    .array(z.strictObject({ name: labelName, list: z.string().min(1).max(2000) }))
    .min(1)
    .max(8)
    .meta({ title: 'Roster' }),
  way: z.enum(ROSTER_WAYS).default('all combinations').meta({ title: 'Lists go together' }),
});
export type FamilyBody = z.infer<typeof familyBody>;

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
    standbyAddress: sourceAddress.nullable().optional().meta({ title: 'Address by the second way' }),
    scaling: scaling.nullable().default(null).meta({ title: 'Scaling' }),
    pace: number.nullable().default(null).meta({ title: 'Pace' }),
    /** Settings of its own: all that count without a pace, else the ones in which it departs from it. */
    settings: paceSettings.partial().default({}).meta({ title: 'Settings of its own' }),
    paused: z.boolean().default(false).meta({ title: 'Paused' }),
    aggregateConfiguration: tagAggregateConfiguration.nullable().default(null).meta({ title: 'Aggregates' }),
    counter: counterNature.nullable().default(null).meta({ title: 'Counter' }),
    /** Whether people who may operate the plant may write to it; without: no. */
    writable: z.boolean().optional().meta({ title: 'Writable' }),
    labels: labels.optional().meta({ title: 'Labels' }),
    family: number.nullable().optional().meta({ title: 'Family' }),
    /** Over the value that its source holds; without a source, over other tags. */
    formula: formula.nullable().optional().meta({ title: 'Formula', long: true }),
    /** The tags of which it is computed, by what its formula calls them. */
    inputs: z.record(inputName, number).optional().meta({ title: 'Inputs' }),
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

const clock = z.string().regex(/^([01]\d|2[0-3]):[0-5]\d$/, 'has to be a time of day such as 06:30');

/** How much a link may send, by the time of day in the site's zone; of several that hold at a time the least counts. */
export const linkLimits = z
  .array(
    z.strictObject({
      from: clock.default('00:00').meta({ title: 'From' }),
      to: clock.default('00:00').meta({ title: 'To', description: 'the same: all day' }),
      kilobytesPerSecond: z.number().min(0.1).max(1e7).meta({ title: 'At most', description: 'kB/s' }),
    }),
  )
  .max(12)
  .default([]);

/** Comparing both ends by itself: at a time of day in the site's zone. */
export const linkSchedule = z.strictObject({
  at: clock.default('03:00').meta({ title: 'At' }),
  days: z.number().int().min(1).max(3660).default(35).meta({ title: 'Looks back', description: 'days' }),
  repair: z.enum(['nothing', 'there', 'here']).default('nothing').meta({ title: 'Mends' }),
});

/** What of a link's terms does not go together. */
export const NOTHING_CARRIED = {
  message: 'Every value, summaries, or both: else nothing is carried.',
  path: ['detail'],
};
export const NO_SUMMARIES_IN_FILES = {
  message: 'Files hold every value: summaries go to a site, a table or a broker.',
  path: ['summaries'],
};

/** Summaries that are carried: each becomes a tag of its own at the far end. */
export const linkSummaries = z
  .array(
    z.strictObject({
      aggregate: z.enum(SUMMARY_AGGREGATES).meta({ title: 'Aggregate' }),
      interval: z
        .string()
        .max(60)
        .refine(
          (text) => summaryInterval(text) !== undefined,
          'has to be an interval of a second or more, such as PT1H, 15 minutes, day, month or shift:06:00/18:00',
        )
        .meta({ title: 'Over' }),
    }),
  )
  .max(20)
  .refine((all) => new Set(all.map(summaryName)).size === all.length, 'One summary is there twice.')
  .default([]);

/** A link to another site by its address and key, or to another kind of far end (`to`). */
export const linkBody = z
  .strictObject({
    name: label.meta({ title: 'Name' }),
    url: siteAddress.or(z.literal('')).default('').meta({ title: 'Far end' }),
    secondUrl: siteAddress.or(z.literal('')).default('').meta({ title: 'Second address' }),
    key: number.nullable().default(null).meta({ title: 'Key', secret: true }),
    to: otherEnd.nullable().default(null).meta({ title: 'Other far end' }),
    carries: z.array(linkSelection).max(100).default([]).meta({ title: 'Carries' }),
    naming: linkNaming.default({ rules: [], single: {} }).meta({ title: 'Naming' }),
    detail: z.boolean().default(true).meta({ title: 'Every value' }),
    summaries: linkSummaries.meta({ title: 'Summaries' }),
    limits: linkLimits.meta({ title: 'Limits' }),
    liveFirst: z.boolean().default(false).meta({ title: 'What comes now goes first' }),
    reconciles: linkSchedule.nullable().default(null).meta({ title: 'Compares by itself' }),
    paused: z.boolean().default(false).meta({ title: 'Paused' }),
  })
  .refine(({ url, key, to }) => (to === null) === (url !== '' && key !== null), {
    message: 'A link leads to a site, by its address and a key, or to another far end.',
    path: ['to'],
  })
  .refine(({ detail, summaries }) => detail || summaries.length > 0, NOTHING_CARRIED)
  .refine(({ to, summaries }) => to?.kind !== 'files' || summaries.length === 0, NO_SUMMARIES_IN_FILES);
export type LinkBody = z.infer<typeof linkBody>;

export const BODIES = {
  place: placeBody,
  pace: paceBody,
  store: storeBody,
  source: sourceBody,
  family: familyBody,
  tag: tagBody,
  link: linkBody,
} as const;
