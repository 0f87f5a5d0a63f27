/**
 * Metrics of Sparkplug B (Eclipse Sparkplug 3.0.0): their topics, their types, and what a number on the wire stands for.
 * The numbers of types and the rules are from memory; an encoder of another make is held against them in the tests.
 */
import { Status } from '../status/codes.ts';

/** A metric as a message has it. */
export interface WireMetric {
  /** Empty where only the alias says which it is. */
  readonly name: string;
  readonly alias: string | null;
  /** Milliseconds since 1970. */
  readonly time: number | null;
  readonly type: number | null;
  readonly historical: boolean;
  readonly isNull: boolean;
  /** Whole numbers as they lie on the wire: without a sign. */
  readonly value: number | bigint | boolean | string | null;
  readonly properties: Readonly<Record<string, number | string | boolean | null>>;
}

export interface WireMessage {
  readonly time: number | null;
  readonly seq: number | null;
  readonly metrics: readonly WireMetric[];
}

export const SPARKPLUG_VERBS = ['NBIRTH', 'NDATA', 'NDEATH', 'DBIRTH', 'DDATA', 'DDEATH'] as const;
export type SparkplugVerb = (typeof SPARKPLUG_VERBS)[number];

/** Who says what. */
export interface SparkplugTopic {
  readonly verb: SparkplugVerb;
  /** Group and edge node, as `group/node`. */
  readonly edge: string;
  /** Empty for the edge node itself. */
  readonly device: string;
}

export const SPARKPLUG_NAMESPACE = 'spBv1.0';

/** Undefined for what is none of an edge node's messages, such as commands and states of hosts. */
export function parseSparkplugTopic(topic: string): SparkplugTopic | undefined {
  const [namespace, group, verb, node, device = '', ...more] = topic.split('/');
  const known = SPARKPLUG_VERBS.find((one) => one === verb);
  if (namespace !== SPARKPLUG_NAMESPACE || !known || !group || !node || more.length > 0) return undefined;
  // A device's message names it, a node's does not.
  if (known.startsWith('D') !== (device !== '')) return undefined;
  return { verb: known, edge: `${group}/${node}`, device };
}

/** Where an edge node is told to say again what it has. */
export function commandTopic(edge: string): string {
  const [group, node] = edge.split('/') as [string, string];
  return `${SPARKPLUG_NAMESPACE}/${group}/NCMD/${node}`;
}

/** By which an edge node is asked to begin anew. */
export const REBIRTH = 'Node Control/Rebirth';
/** By which births and deaths of one session are known to belong together. */
export const SESSION_NUMBER = 'bdSeq';

interface Type {
  readonly words: string;
  readonly keeps: 'real' | 'integer' | 'boolean' | 'text' | null;
  readonly bits?: 8 | 16 | 32 | 64;
  readonly signed?: boolean;
}

/** Types by their numbers. */
const TYPES: Readonly<Record<number, Type>> = {
  1: { words: 'Int8', keeps: 'integer', bits: 8, signed: true },
  2: { words: 'Int16', keeps: 'integer', bits: 16, signed: true },
  3: { words: 'Int32', keeps: 'integer', bits: 32, signed: true },
  4: { words: 'Int64', keeps: 'integer', bits: 64, signed: true },
  5: { words: 'UInt8', keeps: 'integer', bits: 8 },
  6: { words: 'UInt16', keeps: 'integer', bits: 16 },
  7: { words: 'UInt32', keeps: 'integer', bits: 32 },
  8: { words: 'UInt64', keeps: 'integer', bits: 64 },
  9: { words: 'Float', keeps: 'real' },
  10: { words: 'Double', keeps: 'real' },
  11: { words: 'Boolean', keeps: 'boolean' },
  12: { words: 'String', keeps: 'text' },
  13: { words: 'DateTime', keeps: 'integer', bits: 64 },
  14: { words: 'Text', keeps: 'text' },
  15: { words: 'UUID', keeps: 'text' },
};

const UNKNOWN: Type = { words: 'a type that no tag can keep', keeps: null };

/** What a tag of a metric would be, and how its type is called. */
export const metricType = (type: number | null): Type => (type === null ? UNKNOWN : (TYPES[type] ?? UNKNOWN));

/** A metric's value: a whole number with its sign, exact; true and false as 1 and 0. Undefined where no tag can keep it. */
export function metricValue(
  { value }: Pick<WireMetric, 'value'>,
  type: number | null,
): number | bigint | string | undefined {
  const { keeps, bits, signed } = metricType(type);
  if (value === null || keeps === null) return undefined;
  if (typeof value === 'boolean') return Number(value);
  if (typeof value === 'string') return keeps === 'text' ? value : undefined;
  if (bits === undefined) return keeps === 'text' ? undefined : Number(value);
  const whole = signed ? BigInt.asIntN(bits, BigInt(value)) : BigInt.asUintN(bits, BigInt(value));
  const number = Number(whole);
  return Number.isSafeInteger(number) ? number : whole;
}

/** What a metric's property "Quality" says of it: 0 is Bad, 192 Good, 500 stale (Sparkplug 3.0.0, 6.4.6). */
export function metricStatus(quality: number | string | boolean | null | undefined): number {
  if (quality === undefined || quality === null) return Status.Good;
  if (Number(quality) === 192) return Status.Good;
  return Number(quality) === 500 ? Status.UncertainLastUsableValue : Status.Bad;
}
