/**
 * An edge node as its messages tell of it: what it was born with, what its aliases stand for, whether a message is missing
 * between two, and what nobody vouches for any more when it dies. Pure; times in microseconds.
 */
import { Status } from '../status/codes.ts';
import {
  SESSION_NUMBER,
  metricStatus,
  metricType,
  metricValue,
  type SparkplugVerb,
  type WireMessage,
  type WireMetric,
} from './metrics.ts';

/** A metric as it was born, and as it was told last. */
export interface BornMetric {
  readonly device: string;
  readonly name: string;
  readonly type: number | null;
  readonly properties: WireMetric['properties'];
  readonly value: number | bigint | string | null;
  readonly status: number;
}

export interface MetricSample {
  readonly device: string;
  readonly metric: string;
  readonly value: number | bigint | string | null;
  readonly status: number;
  /** Null where the message says none. */
  readonly time: number | null;
  /** Why there is no value. */
  readonly trouble: string | null;
}

/** What a message came to. */
export interface Told {
  readonly samples: readonly MetricSample[];
  /** Why the edge node has to say again what it has; null where all is known. */
  readonly again: string | null;
}

const SEQUENCE = 256;
const NOTHING: Told = { samples: [], again: null };

const keyOf = (device: string, name: string): string => `${device}\0${name}`;

export class EdgeNode {
  private born = false;
  private session: number | bigint | string | null = null;
  private seq: number | null = null;
  private readonly metrics = new Map<string, BornMetric>();
  /** Keys by alias: an edge node has one set of them, for its devices, too. */
  private readonly aliases = new Map<string, string>();
  private readonly devices = new Set<string>();

  /** Everything that it and its devices were born with. */
  get all(): Iterable<BornMetric> {
    return this.metrics.values();
  }

  get isAlive(): boolean {
    return this.born;
  }

  /** @param at when the message came, for what it does not say. */
  take(verb: SparkplugVerb, device: string, message: WireMessage, at: number): Told {
    switch (verb) {
      case 'NBIRTH':
        return this.birth(message);
      case 'DBIRTH':
        return this.deviceBirth(device, message);
      case 'NDATA':
      case 'DDATA':
        return this.data(device, message);
      case 'NDEATH':
        return this.death(message, at);
      case 'DDEATH':
        return this.deviceDeath(device, message, at);
    }
  }

  private birth(message: WireMessage): Told {
    this.born = true;
    this.metrics.clear();
    this.aliases.clear();
    this.devices.clear();
    this.session = sessionOf(message);
    this.seq = message.seq;
    return this.bear('', message);
  }

  private deviceBirth(device: string, message: WireMessage): Told {
    if (!this.born) return { samples: [], again: 'a device was born before its edge node' };
    const missed = this.follows(message);
    this.devices.add(device);
    for (const [key, metric] of this.metrics) if (metric.device === device) this.metrics.delete(key);
    return { ...this.bear(device, message), again: missed };
  }

  private bear(device: string, message: WireMessage): Told {
    const samples: MetricSample[] = [];
    for (const metric of message.metrics) {
      const key = keyOf(device, metric.name);
      if (metric.alias !== null) this.aliases.set(metric.alias, key);
      samples.push(
        this.sampleOf({ device, name: metric.name, type: metric.type, properties: metric.properties }, metric, message),
      );
    }
    return { samples, again: null };
  }

  private data(device: string, message: WireMessage): Told {
    if (!this.born) return { samples: [], again: 'values came before a birth' };
    if (device !== '' && !this.devices.has(device)) return { samples: [], again: `${device} was not born` };
    let again = this.follows(message);
    const samples: MetricSample[] = [];
    for (const metric of message.metrics) {
      const key = metric.name === '' ? this.aliases.get(metric.alias ?? '') : keyOf(device, metric.name);
      const known = key === undefined ? undefined : this.metrics.get(key);
      if (!known) again ??= `a value came of ${metric.name || `alias ${metric.alias}`}, which was not born`;
      else {
        const properties = { ...known.properties, ...metric.properties };
        // A quality counts for the value that it comes with.
        if (!('Quality' in metric.properties)) delete (properties as Record<string, unknown>).Quality;
        samples.push(this.sampleOf({ ...known, type: metric.type ?? known.type, properties }, metric, message));
      }
    }
    return { samples, again };
  }

  /** What was told last is all that is known from then on, of a session that has not begun anew meanwhile. */
  private death(message: WireMessage, at: number): Told {
    const session = sessionOf(message);
    if (!this.born || (session !== null && this.session !== null && session !== this.session)) return NOTHING;
    this.born = false;
    return { samples: this.stale(() => true, at), again: null };
  }

  private deviceDeath(device: string, message: WireMessage, at: number): Told {
    if (!this.born) return { samples: [], again: 'a device died before a birth' };
    const again = this.follows(message);
    this.devices.delete(device);
    const time = message.time === null ? at : message.time * 1000;
    return { samples: this.stale((metric) => metric.device === device, time), again };
  }

  private stale(whose: (metric: BornMetric) => boolean, time: number): MetricSample[] {
    return [...this.metrics.values()].filter(whose).map(({ device, name, value }) => ({
      device,
      metric: name,
      value,
      status: value === null ? Status.BadNoCommunication : Status.UncertainLastUsableValue,
      time,
      trouble: null,
    }));
  }

  /** @returns why a message is missing before this one; null where none is. */
  private follows({ seq }: WireMessage): string | null {
    const before = this.seq;
    this.seq = seq ?? before;
    if (seq === null || before === null || seq === (before + 1) % SEQUENCE) return null;
    return `message ${seq} came after message ${before}`;
  }

  private sampleOf(
    { device, name, type, properties }: Pick<BornMetric, 'device' | 'name' | 'type' | 'properties'>,
    metric: WireMetric,
    message: WireMessage,
  ): MetricSample {
    const read = metric.isNull ? undefined : metricValue(metric, type);
    const value = read ?? null;
    const status = value === null ? Status.BadNoData : metricStatus(properties.Quality);
    // What is told of the past is no news of the present.
    if (!metric.historical || !this.metrics.has(keyOf(device, name)))
      this.metrics.set(keyOf(device, name), { device, name, type, properties, value, status });
    const time = metric.time ?? message.time;
    const trouble = metric.isNull || read !== undefined ? null : `${name} holds ${metricType(type).words}.`;
    return { device, metric: name, value, status, time: time === null ? null : time * 1000, trouble };
  }
}

function sessionOf({ metrics }: WireMessage): number | bigint | string | null {
  const found = metrics.find(({ name }) => name === SESSION_NUMBER);
  return found ? (metricValue(found, found.type ?? 8) ?? null) : null;
}
