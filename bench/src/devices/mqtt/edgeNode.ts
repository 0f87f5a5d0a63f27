/** An edge node that speaks Sparkplug B through a broker: born, telling what changed, dying by its last will. */
import { connectAsync, type MqttClient } from 'mqtt';
import { get } from 'sparkplug-payload';
import { SALTQUAY_STATION, type StationMetric } from '../../plant/saltquayStation.ts';

// An encoder of another make: a mistake of ours in reading is not made twice.
const { encodePayload, decodePayload } = get('spBv1.0')!;

const TICK_MILLISECONDS = 200;
const SEQUENCE = 256;
const REBIRTH = 'Node Control/Rebirth';

type Metric = NonNullable<Parameters<typeof encodePayload>[0]['metrics']>[number];

export class EdgeNode {
  private client: MqttClient | null = null;
  private timer: NodeJS.Timeout | null = null;
  private seq = 0;
  private session = 0;
  private readonly told = new Map<StationMetric, number>();
  private due = 0;
  messages = 0;

  constructor(
    private readonly host: string,
    private readonly port: number,
    private readonly clock: () => number = () => Date.now() / 1000,
  ) {}

  async start(): Promise<void> {
    this.session = (this.session + 1) % SEQUENCE;
    const will = encodePayload({ timestamp: this.now, metrics: [this.sessionMetric] });
    this.client = await connectAsync({
      host: this.host,
      port: this.port,
      clientId: 'edge node',
      will: { topic: this.topic('NDEATH'), payload: Buffer.from(will), qos: 1, retain: false },
      reconnectPeriod: 0,
    });
    this.client.on('error', () => undefined);
    this.client.on('message', (_topic, payload) => this.hear(payload));
    await this.client.subscribeAsync(this.topic('NCMD'), { qos: 1 });
    this.birth();
    this.timer = setInterval(() => this.tick(), TICK_MILLISECONDS);
  }

  /** @param kindly says goodbye to the broker: then nobody hears of its death but by its own word. */
  async stop(kindly = true): Promise<void> {
    if (this.timer) clearInterval(this.timer);
    const { client } = this;
    this.client = null;
    if (kindly) await client?.endAsync(true);
    // The broker tells its last will.
    else client?.stream.destroy();
  }

  /** A message is counted and gets lost on the way. */
  skip(): void {
    this.seq = (this.seq + 1) % SEQUENCE;
  }

  /** A device of it is gone, or back. */
  device(name: string, isThere: boolean): void {
    if (isThere) this.deviceBirth(name);
    else this.publish('DDEATH', name, []);
  }

  /** Tells values of the past that could not be told then. Seconds since 1970. */
  history(metric: StationMetric, at: readonly number[]): void {
    this.publish(
      metric.device === '' ? 'NDATA' : 'DDATA',
      metric.device,
      at.map((seconds) => ({ ...this.valueOf(metric, seconds), isHistorical: true })),
    );
  }

  private get now(): number {
    return Math.round(this.clock() * 1000);
  }

  private get sessionMetric(): Metric {
    return { name: 'bdSeq', type: 'UInt64', value: this.session, timestamp: this.now };
  }

  private topic(verb: string, device = ''): string {
    const { group, edge } = SALTQUAY_STATION;
    return `spBv1.0/${group}/${verb}/${edge}${device === '' ? '' : `/${device}`}`;
  }

  private birth(): void {
    this.seq = 0;
    this.told.clear();
    const rebirth: Metric = { name: REBIRTH, type: 'Boolean', value: false, timestamp: this.now };
    this.publish('NBIRTH', '', [this.sessionMetric, rebirth, ...this.born('')]);
    const devices = new Set(SALTQUAY_STATION.metrics.map(({ device }) => device).filter((name) => name !== ''));
    for (const device of devices) this.deviceBirth(device);
  }

  private deviceBirth(device: string): void {
    this.publish('DBIRTH', device, this.born(device));
  }

  /** All metrics of a device, whole: with their names, their aliases and what they are in. */
  private born(device: string): Metric[] {
    return SALTQUAY_STATION.metrics
      .filter((metric) => metric.device === device)
      .map((metric) => ({
        ...this.valueOf(metric, this.beat()),
        name: metric.name,
        ...(metric.unit === '' ? {} : { properties: { engUnit: { type: 'String', value: metric.unit } } }),
      }));
  }

  private beat(): number {
    return Math.floor(this.clock() / SALTQUAY_STATION.everySeconds) * SALTQUAY_STATION.everySeconds;
  }

  /** A value by its alias alone. */
  private valueOf(metric: StationMetric, seconds: number): Metric {
    const value = metric.at(seconds);
    this.told.set(metric, value);
    return {
      alias: SALTQUAY_STATION.metrics.indexOf(metric) + 1,
      type: metric.type,
      value: metric.type === 'Boolean' ? value === 1 : value,
      timestamp: seconds * 1000,
    };
  }

  private tick(): void {
    const beat = this.beat();
    if (beat === this.due) return;
    this.due = beat;
    const changed = SALTQUAY_STATION.metrics.filter((metric) => this.told.get(metric) !== metric.at(beat));
    for (const device of new Set(changed.map((metric) => metric.device))) {
      const own = changed.filter((metric) => metric.device === device);
      this.publish(
        device === '' ? 'NDATA' : 'DDATA',
        device,
        own.map((metric) => this.valueOf(metric, beat)),
      );
    }
  }

  private publish(verb: string, device: string, metrics: Metric[]): void {
    const payload = encodePayload({ timestamp: this.now, seq: this.seq, metrics });
    this.seq = (this.seq + 1) % SEQUENCE;
    this.messages++;
    this.client?.publish(this.topic(verb, device), Buffer.from(payload), { qos: 0 });
  }

  private hear(payload: Buffer): void {
    const { metrics } = decodePayload(payload);
    if (metrics?.some(({ name, value }) => name === REBIRTH && value === true)) this.birth();
  }
}
