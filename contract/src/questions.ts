/** What a server asks of a collector while somebody waits: to walk a path, to look through a source. */
import { z } from 'zod';
import { burst, burstPace } from './bursts.ts';
import { configuredTag } from './collector.ts';
import { collectorName } from './common.ts';
import { MODBUS_AREAS, OPC_UA_MODES, OPC_UA_POLICIES, OPC_UA_SIGN_INS, sourceAddress } from './kinds/index.ts';
import { newSource, pathCheck, rung } from './sources.ts';
import { TAG_TYPES } from './tags.ts';
import { deviceValue, held, written } from './writing.ts';

/** A node of a source's tree. What only variables have is null for others. */
export const browsedNode = z.object({
  /** Its address, as the source has it. */
  node: z.string(),
  name: z.string(),
  description: z.string(),
  /** Whether something lies below it. */
  hasBelow: z.boolean(),
  /** Whether it holds a value, and which kind of tag could keep it; null where none can. */
  type: z.enum(['real', 'integer', 'boolean', 'text', 'state']).nullable(),
  typeWords: z.string(),
  unit: z.string(),
  low: z.number().nullable(),
  high: z.number().nullable(),
  /** The names of a state's numbers. */
  states: z.record(z.string(), z.string()).nullable(),
  value: z.string().nullable(),
  quality: z.string().nullable(),
  /** The elements of an array or a structure that can be taken apart. */
  elements: z.array(z.string()),
  /** The tags that are read from it already. */
  taken: z.array(z.string()).default([]),
});
export type BrowsedNode = z.infer<typeof browsedNode>;

export const browseAnswer = z.object({ nodes: z.array(browsedNode), more: z.boolean() });
export type BrowseAnswer = z.infer<typeof browseAnswer>;

/** A block of registers as a device holds them, or what it says instead. */
export const registerBlock = z.object({
  area: z.enum(MODBUS_AREAS),
  start: z.number().int().min(0).max(65_535),
  length: z.number().int().min(1).max(125),
});
export type RegisterBlock = z.infer<typeof registerBlock>;

export const registersAnswer = z.object({
  /** Two bytes a register in hexadecimal digits; of single bits one digit each, 0 or 1. */
  data: z.string().nullable(),
  /** Why the device gave none. */
  refusal: z.string().nullable(),
});
export type RegistersAnswer = z.infer<typeof registersAnswer>;

/** Addresses that a source is asked for, and what it is taken as that lies there. */
const addressesAsked = z.object({
  addresses: z.array(sourceAddress).min(1).max(1000),
  type: z.enum(TAG_TYPES).default('real'),
});
/** What lies there at this moment, in the order in which it was asked; or what the source says instead. */
export const addressesAnswer = z.object({
  found: z.array(z.object({ value: deviceValue.nullable(), trouble: z.string().nullable() })),
});
export type AddressesAnswer = z.infer<typeof addressesAnswer>;

/** Messages as they were caught: the newest of some topics. */
export const messagesAnswer = z.object({
  messages: z.array(z.object({ topic: z.string(), payload: z.string() })),
  topics: z.number().meta({ description: 'on which any came while it was listened' }),
});
export type MessagesAnswer = z.infer<typeof messagesAnswer>;

/** A look into a record: its newest rows, or its first ones, and what becomes of them. */
export const rowsAnswer = z.object({
  columns: z.array(z.object({ name: z.string(), type: z.string() })),
  rows: z.array(z.array(z.string().nullable())),
  /** Of all the rows that were looked at: those with values, and why others have none, with how often. */
  read: z.number(),
  troubles: z.array(z.object({ sentence: z.string(), times: z.number() })),
  series: z.array(z.string()).meta({ description: 'that a tag could take' }),
  said: z.string().meta({ description: 'what asking for the rows takes, or of which file they are' }),
});
export type RowsAnswer = z.infer<typeof rowsAnswer>;

/** Which unit ids behind an address answer. */
export const unitsAnswer = z.object({
  units: z.array(z.object({ unit: z.number().int(), answers: z.boolean(), sentence: z.string() })),
});
export type UnitsAnswer = z.infer<typeof unitsAnswer>;

/** What a server offers to whoever wants to connect: itself and others that it knows, and ways to secure a connection. */
export const offersAnswer = z.object({
  servers: z.array(z.object({ name: z.string(), endpoints: z.array(z.string()) })),
  endpoints: z.array(
    z.object({
      policy: z.enum(OPC_UA_POLICIES),
      mode: z.enum(OPC_UA_MODES),
      signIns: z.array(z.enum(OPC_UA_SIGN_INS)),
      /** The certificate, in words, and its fingerprint. */
      certificate: z.string(),
      fingerprint: z.string(),
    }),
  ),
});
export type OffersAnswer = z.infer<typeof offersAnswer>;
export const offersQuery = z.strictObject({ source: newSource });

/** Secrets that a question needs, by their numbers. */
const secrets = z.record(z.string(), z.string()).default({});

/** A stretch of some tags that is to be fetched from their source. Microseconds. */
export const wantedHole = z.object({
  tags: z.array(z.number().int()).min(1).max(100_000),
  from: z.number().int(),
  to: z.number().int(),
});
export type WantedHole = z.infer<typeof wantedHole>;

/** What a source is to be asked for of its past, under a number; without holes: no more. */
const recoverQuestion = z.object({
  ask: z.literal('recover'),
  source: newSource,
  id: z.number().int(),
  order: z.number().int(),
  holes: z.array(wantedHole).max(10_000),
  secrets,
});

/** Taking another way to a source in force: 1 is the first. */
const wayQuestion = z.object({
  ask: z.literal('way'),
  source: newSource,
  id: z.number().int(),
  way: z.number().int().min(1).max(20),
  secrets,
});

const unitId = z.number().int().min(0).max(255);

/** What a source in force holds for a tag at this moment; or: something else is written there, while it holds that. */
const ofTag = { source: newSource, id: z.number().int(), tag: z.number().int(), secrets };
const heldQuestion = z.object({ ask: z.literal('held'), ...ofTag });
const writeQuestion = z.object({
  ask: z.literal('write'),
  ...ofTag,
  value: deviceValue,
  seen: deviceValue.nullable(),
});

export const question = z.discriminatedUnion('ask', [
  z.object({ ask: z.literal('check'), source: newSource, secrets }),
  z.object({ ask: z.literal('browse'), source: newSource, node: z.string().max(2000).nullable(), secrets }),
  z.object({ ask: z.literal('offers'), source: newSource, secrets }),
  z.object({ ask: z.literal('registers'), source: newSource, block: registerBlock, secrets }),
  z.object({ ask: z.literal('addresses'), source: newSource, ...addressesAsked.shape, secrets }),
  z.object({ ask: z.literal('burst'), source: newSource, tag: configuredTag, ...burstPace.shape, secrets }),
  z.object({ ask: z.literal('messages'), source: newSource, secrets }),
  z.object({ ask: z.literal('rows'), source: newSource, secrets }),
  z.object({ ask: z.literal('units'), source: newSource, from: unitId, to: unitId, secrets }),
  recoverQuestion,
  heldQuestion,
  writeQuestion,
  wayQuestion,
]);
export type Question = z.infer<typeof question>;

export const askedQuestion = z.object({ request: z.number().int(), question });
export type AskedQuestion = z.infer<typeof askedQuestion>;

/** How long the call waits for a question, in milliseconds; proxies close calls that wait longer. */
export const questionsQuery = z.object({
  wait: z.coerce.number().int().min(0).max(25_000).default(0),
  collector: collectorName.optional().meta({ description: 'the name of the one that asks; older ones do not say' }),
});

export const questionsAnswer = z.object({ questions: z.array(askedQuestion) });

/** Whether an order was taken; else why not. */
export const recoverAnswer = z.object({ taken: z.boolean(), sentence: z.string() });
export type RecoverAnswer = z.infer<typeof recoverAnswer>;

/** By which way it is read now, in words. */
export const wayAnswer = z.object({ sentence: z.string() });
export type WayAnswer = z.infer<typeof wayAnswer>;
export const wayWish = z.strictObject({ way: z.number().int().min(1).max(20) });

/** What a collector says to a question: a rung on the way, or the whole answer, or why there is none. */
export const collectorSays = z.discriminatedUnion('says', [
  z.object({ request: z.number().int(), says: z.literal('rung'), rung }),
  z.object({ request: z.number().int(), says: z.literal('check'), check: pathCheck }),
  z.object({ request: z.number().int(), says: z.literal('browse'), browse: browseAnswer }),
  z.object({ request: z.number().int(), says: z.literal('registers'), registers: registersAnswer }),
  z.object({ request: z.number().int(), says: z.literal('addresses'), addresses: addressesAnswer }),
  z.object({ request: z.number().int(), says: z.literal('burst'), burst }),
  z.object({ request: z.number().int(), says: z.literal('offers'), offers: offersAnswer }),
  z.object({ request: z.number().int(), says: z.literal('messages'), messages: messagesAnswer }),
  z.object({ request: z.number().int(), says: z.literal('rows'), rows: rowsAnswer }),
  z.object({ request: z.number().int(), says: z.literal('units'), units: unitsAnswer }),
  z.object({ request: z.number().int(), says: z.literal('recover'), recover: recoverAnswer }),
  z.object({ request: z.number().int(), says: z.literal('held'), held }),
  z.object({ request: z.number().int(), says: z.literal('write'), write: written }),
  z.object({ request: z.number().int(), says: z.literal('way'), way: wayAnswer }),
  z.object({
    request: z.number().int(),
    says: z.literal('failed'),
    sentence: z.string().max(2000),
    code: z.string().max(100).nullable(),
  }),
]);
export type CollectorSays = z.infer<typeof collectorSays>;

/** Reading a block of registers of a source, whether or not it is in force. */
export const registersQuery = z.strictObject({ source: newSource, ...registerBlock.shape });
/** Asking whether there is something at addresses, whether or not the source is in force. */
export const addressesQuery = z.strictObject({ source: newSource, ...addressesAsked.shape });
/** Catching messages of a broker, whether or not the source is in force. */
export const messagesQuery = z.strictObject({ source: newSource });
/** Looking into a record, whether or not the source is in force. */
export const rowsQuery = z.strictObject({ source: newSource });
/** Asking unit ids behind an address, one after the other. */
export const unitsQuery = z
  .strictObject({ source: newSource, from: unitId, to: unitId })
  .refine(({ from, to }) => from <= to, 'The range of unit ids is upside down.');

/** Looking through a source: what lies below a node of it. */
export const browseQuery = z.strictObject({
  source: newSource,
  node: z.string().max(2000).nullable().default(null),
  id: z.number().int().optional().meta({ description: 'number of the source: what it is taken as is then said' }),
});
