/**
 * An edge node that tells: what it is born with, then what changes by aliases, each message with its number (Eclipse
 * Sparkplug 3.0.0, 6.4; the rules are from memory, and held against an encoder of another make). Sparkplug counts in
 * milliseconds: what is finer is cut off.
 */
import { isBad, isGood } from '../status/codes.ts';
import { REBIRTH, SESSION_NUMBER } from './metrics.ts';
import { writeSparkplug, type ToldMetric } from './payload.ts';

const SEQUENCE = 256;
/** Numbers of types. */
const BOOLEAN = 11;
const INT64 = 4;
const STRING = 12;
const DOUBLE = 10;

/** A metric that an edge node has: its number is its alias. */
export interface OfferedMetric {
  readonly number: number;
  readonly name: string;
  readonly type: 'real' | 'integer' | 'boolean' | 'text' | 'state';
  readonly unit: string;
}

/** A value on its way. */
export interface OfferedSample {
  readonly number: number;
  /** Microseconds. */
  readonly micros: number;
  /** Whole numbers that a double does not hold, and texts, as text. */
  readonly value: number | string | null;
  readonly status: number;
}

export class TellingNode {
  private seq = 0;
  private metrics = new Map<number, OfferedMetric>();

  /**
   * @param session its number among those of this node: births and deaths of one belong together.
   * @param latest what was told of each last, by its own numbers.
   */
  constructor(
    readonly session: number,
    private readonly latest = new Map<number, OfferedSample>(),
  ) {}

  /** The same node in another session: what it told last it still has. */
  again(session: number): TellingNode {
    return new TellingNode(session, this.latest);
  }

  /** What the broker says in its place when it dies. @param at milliseconds. */
  death(at: number): Uint8Array {
    return writeSparkplug(at, [this.sessionMetric(at)]);
  }

  /** What it has, with what was told of each last; the numbers of messages begin anew. @param at milliseconds. */
  birth(metrics: readonly OfferedMetric[], at: number): Uint8Array {
    this.metrics = new Map(metrics.map((metric) => [metric.number, metric]));
    this.seq = 0;
    const born = metrics.map((metric): ToldMetric => {
      const { number, name, unit } = metric;
      const last = this.latest.get(number);
      const told = last ? this.told(metric, last) : { timestamp: at, datatype: typeOf(metric), is_null: true };
      const properties = { ...told.properties, ...(unit === '' ? {} : { engUnit: unit }) };
      return { ...told, name, alias: number, properties };
    });
    const rebirth = { name: REBIRTH, timestamp: at, datatype: BOOLEAN, boolean_value: false };
    return writeSparkplug(at, [this.sessionMetric(at), rebirth, ...born], this.next());
  }

  /** Values, in their order; of metrics that it was not born with nothing is told. @param at milliseconds. */
  data(samples: readonly OfferedSample[], at: number): Uint8Array {
    const metrics = samples.flatMap((sample): ToldMetric[] => {
      const metric = this.metrics.get(sample.number);
      if (!metric) return [];
      const before = this.latest.get(sample.number);
      const isPast = before !== undefined && sample.micros < before.micros;
      if (!isPast) this.latest.set(sample.number, sample);
      return [{ ...this.told(metric, sample), alias: sample.number, ...(isPast ? { is_historical: true } : {}) }];
    });
    return writeSparkplug(at, metrics, this.next());
  }

  private next(): number {
    const seq = this.seq;
    this.seq = (seq + 1) % SEQUENCE;
    return seq;
  }

  private sessionMetric(at: number): ToldMetric {
    return { name: SESSION_NUMBER, timestamp: at, datatype: INT64, long_value: BigInt(this.session) };
  }

  private told(metric: OfferedMetric, { micros, value, status }: OfferedSample): ToldMetric {
    const common = { timestamp: Math.floor(micros / 1000), datatype: typeOf(metric) };
    const properties = isGood(status) ? {} : { properties: { Quality: isBad(status) ? 0 : 500 } };
    if (value === null) return { ...common, is_null: true, ...properties };
    return { ...common, ...valueOf(metric, value), ...properties };
  }
}

function typeOf({ type }: OfferedMetric): number {
  if (type === 'real') return DOUBLE;
  if (type === 'text') return STRING;
  return type === 'boolean' ? BOOLEAN : INT64;
}

function valueOf({ type }: OfferedMetric, value: number | string): Partial<ToldMetric> {
  if (type === 'text') return { string_value: String(value) };
  if (type === 'boolean') return { boolean_value: Number(value) !== 0 };
  if (type === 'real') return { double_value: Number(value) };
  return { long_value: BigInt(typeof value === 'number' ? Math.trunc(value) : value) };
}
