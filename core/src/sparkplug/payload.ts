/** Payloads of Sparkplug B on the wire: Protocol Buffers, by the message definition of Eclipse Sparkplug 3.0.0, 6.4.1. */
import type { WireMessage, WireMetric } from './metrics.ts';
import protobuf from 'protobufjs';

/** As much of the definition as values need; what it does not name is passed over. */
const DEFINITION = `
syntax = "proto2";
message Payload {
  message PropertyValue {
    optional uint32 type = 1;
    optional bool is_null = 2;
    oneof value {
      uint32 int_value = 3; uint64 long_value = 4; float float_value = 5; double double_value = 6;
      bool boolean_value = 7; string string_value = 8;
    }
  }
  message PropertySet { repeated string keys = 1; repeated PropertyValue values = 2; }
  message Metric {
    optional string name = 1;
    optional uint64 alias = 2;
    optional uint64 timestamp = 3;
    optional uint32 datatype = 4;
    optional bool is_historical = 5;
    optional bool is_transient = 6;
    optional bool is_null = 7;
    optional PropertySet properties = 9;
    oneof value {
      uint32 int_value = 10; uint64 long_value = 11; float float_value = 12; double double_value = 13;
      bool boolean_value = 14; string string_value = 15;
    }
  }
  optional uint64 timestamp = 1;
  repeated Metric metrics = 2;
  optional uint64 seq = 3;
}`;

const Payload = protobuf.parse(DEFINITION, { keepCase: true }).root.lookupType('Payload');

/** Whole numbers of 64 bits come in two halves. */
type Whole = number | { readonly high: number; readonly low: number };

interface Valued {
  readonly is_null?: boolean;
  readonly int_value?: number;
  readonly long_value?: Whole;
  readonly float_value?: number;
  readonly double_value?: number;
  readonly boolean_value?: boolean;
  readonly string_value?: string;
}
interface RawMetric extends Valued {
  readonly name?: string;
  readonly alias?: Whole;
  readonly timestamp?: Whole;
  readonly datatype?: number;
  readonly is_historical?: boolean;
  readonly properties?: { readonly keys?: readonly string[]; readonly values?: readonly Valued[] };
}
interface RawPayload {
  readonly timestamp?: Whole;
  readonly seq?: Whole;
  readonly metrics?: readonly RawMetric[];
}

/** @throws Error with a sentence where it is none. */
export function readSparkplug(bytes: Uint8Array): WireMessage {
  let raw: RawPayload;
  try {
    raw = Payload.decode(bytes) as unknown as RawPayload;
  } catch (error) {
    throw new Error(`The payload is no Sparkplug B: ${(error as Error).message}.`, { cause: error });
  }
  return {
    time: numberOf(own(raw, 'timestamp')),
    seq: numberOf(own(raw, 'seq')),
    metrics: (raw.metrics ?? []).map(metricOf),
  };
}

/** A metric as it is told. Without a name its alias says which it is; what is not said is left out. */
export interface ToldMetric {
  readonly name?: string;
  readonly alias?: number;
  /** Milliseconds since 1970. */
  readonly timestamp: number;
  readonly datatype: number;
  readonly is_historical?: boolean;
  readonly is_null?: boolean;
  readonly long_value?: bigint;
  readonly double_value?: number;
  readonly boolean_value?: boolean;
  readonly string_value?: string;
  readonly properties?: Readonly<Record<string, number | string>>;
}

/** A message as it goes over the wire. @param seq its number in the session; left out where the message bears none. */
export function writeSparkplug(timestamp: number, metrics: readonly ToldMetric[], seq?: number): Uint8Array {
  const message = { timestamp, ...(seq === undefined ? {} : { seq }), metrics: metrics.map(rawOf) };
  return Payload.encode(Payload.create(message)).finish();
}

function rawOf({ long_value, properties, ...metric }: ToldMetric): object {
  const set = Object.entries(properties ?? {});
  return {
    ...metric,
    ...(long_value === undefined ? {} : { long_value: halvesOf(long_value) }),
    ...(set.length === 0
      ? {}
      : {
          properties: {
            keys: set.map(([key]) => key),
            values: set.map(([, value]) =>
              typeof value === 'number' ? { type: 3, int_value: value } : { type: 12, string_value: value },
            ),
          },
        }),
  };
}

/** Negative ones as their two's complement. */
function halvesOf(whole: bigint): { readonly low: number; readonly high: number; readonly unsigned: true } {
  const bits = BigInt.asUintN(64, whole);
  return { low: Number(bits & 0xffff_ffffn), high: Number(bits >> 32n), unsigned: true };
}

/** The command by which an edge node is asked to begin anew. @param at milliseconds since 1970. */
export const commandPayload = (name: string, at: number): Uint8Array =>
  writeSparkplug(at, [{ name, timestamp: at, datatype: 11, boolean_value: true }]);

/** What is not on the wire has a standing value in the prototype. */
const own = <Of extends object, Name extends keyof Of>(of: Of, name: Name): Of[Name] | undefined =>
  Object.hasOwn(of, name) ? of[name] : undefined;

const bigOf = (whole: Whole): bigint =>
  typeof whole === 'number' ? BigInt(whole) : (BigInt(whole.high >>> 0) << 32n) | BigInt(whole.low >>> 0);
const numberOf = (whole: Whole | undefined): number | null => (whole === undefined ? null : Number(bigOf(whole)));

function metricOf(raw: RawMetric): WireMetric {
  const alias = own(raw, 'alias');
  const keys = raw.properties?.keys ?? [];
  return {
    name: own(raw, 'name') ?? '',
    alias: alias === undefined ? null : bigOf(alias).toString(),
    time: numberOf(own(raw, 'timestamp')),
    type: own(raw, 'datatype') ?? null,
    historical: own(raw, 'is_historical') ?? false,
    isNull: own(raw, 'is_null') ?? false,
    value: valueOf(raw),
    properties: Object.fromEntries(
      keys.map((key, i) => {
        const property = raw.properties?.values?.[i];
        const value = property && !own(property, 'is_null') ? valueOf(property) : null;
        return [key, typeof value === 'bigint' ? Number(value) : value];
      }),
    ),
  };
}

function valueOf(raw: Valued): WireMetric['value'] {
  const long = own(raw, 'long_value');
  if (long !== undefined) return bigOf(long);
  return (
    own(raw, 'int_value') ??
    own(raw, 'float_value') ??
    own(raw, 'double_value') ??
    own(raw, 'boolean_value') ??
    own(raw, 'string_value') ??
    null
  );
}
