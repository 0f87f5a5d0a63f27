/** A broker of the plant behind its line, and the meters that tell it their readings at even times. */
import { connectAsync, type MqttClient } from 'mqtt';
import { messageOf, toldAt, type Meter, type Reading, type SetReadings } from '../../plant/saltquay.ts';
import { Relay } from '../../relay/relay.ts';
import type { Device, DeviceState, PointState } from '../device.ts';
import { startBroker } from './broker.ts';
import { EdgeNode } from './edgeNode.ts';
import { SALTQUAY_STATION } from '../../plant/saltquayStation.ts';

const TICK_MILLISECONDS = 100;

/** What tells its readings there. */
export interface Exchange {
  readonly name: string;
  readonly place: string;
  readonly meters: readonly Meter[];
  /** What the broker keeps of others. */
  readonly notes: readonly (readonly [topic: string, text: string])[];
}

export class BrokerDevice implements Device {
  readonly line: Relay;
  private messages = 0;
  private timer: NodeJS.Timeout | null = null;
  private client: MqttClient | null = null;
  private edge: EdgeNode | null = null;
  private readonly set = new Map<Reading, number>();
  private stopBroker: () => Promise<void> = () => Promise.resolve();

  /** @param folder where the broker's own settings are put. */
  constructor(
    private readonly exchange: Exchange,
    private readonly host: string,
    port: number,
    private readonly innerPort: number,
    private readonly folder: string,
    private readonly clock: () => number = () => Date.now() / 1000,
  ) {
    this.line = new Relay(exchange.name, host, port, innerPort);
  }

  async start(): Promise<void> {
    this.stopBroker = await startBroker(this.innerPort, this.folder);
    this.client = await connectAsync({ host: this.host, port: this.innerPort, clientId: 'meters' });
    this.client.on('error', () => undefined);
    for (const [topic, text] of this.exchange.notes) this.client.publish(topic, text, { qos: 1, retain: true });
    await this.takeCommands(this.client);
    const told = new Map<Meter, number>();
    this.timer = setInterval(() => {
      for (const meter of this.exchange.meters) {
        const due = Math.floor(this.clock() / meter.everySeconds) * meter.everySeconds;
        if (told.get(meter) === due) continue;
        told.set(meter, due);
        this.tell(meter, due);
      }
    }, TICK_MILLISECONDS);
    this.edge = new EdgeNode(this.host, this.innerPort, this.clock);
    await this.edge.start();
    await this.line.open();
  }

  async stop(): Promise<void> {
    if (this.timer) clearInterval(this.timer);
    await this.line.stop();
    await this.edge?.stop();
    await this.client?.endAsync(true);
    await this.stopBroker();
  }

  private tell(meter: Meter, seconds: number): void {
    this.messages++;
    this.client?.publish(meter.topic, messageOf(meter, seconds, this.set), { qos: 1 });
  }

  /** What is set is told at once, within what can be set. */
  private async takeCommands(client: MqttClient): Promise<void> {
    const commanded = new Map(
      this.exchange.meters.flatMap((meter) => (meter.command ? [[meter.command, meter] as const] : [])),
    );
    client.on('message', (topic, payload) => {
      const meter = commanded.get(topic);
      const wanted = meter && settingIn(meter, payload.toString('utf8'));
      if (!wanted) return;
      this.set.set(...wanted);
      this.tell(meter, this.clock());
    });
    if (commanded.size > 0) await client.subscribeAsync([...commanded.keys()], { qos: 1 });
  }

  get state(): DeviceState {
    const { name, place, meters } = this.exchange;
    return {
      name,
      place,
      protocol: 'MQTT, Sparkplug B',
      ...this.line.state,
      requests: this.messages + (this.edge?.messages ?? 0),
      memory: null,
      clockError: null,
      points: [...meterPoints(meters, this.clock(), this.set), ...stationPoints(this.clock())],
    };
  }
}

/** What a command sets: one of the readings that can be set, to the nearest that it can be; null: nothing. */
function settingIn({ readings }: Meter, text: string): [Reading, number] | null {
  try {
    const { field, value } = JSON.parse(text) as { field?: unknown; value?: unknown };
    const reading = readings.find((one) => one.writable && one.field === field);
    if (!reading || typeof value !== 'number') return null;
    return [reading, Math.min(reading.high, Math.max(reading.low, value))];
  } catch {
    return null;
  }
}

const meterPoints = (meters: readonly Meter[], now: number, set: SetReadings): PointState[] =>
  meters.flatMap((meter) =>
    meter.readings.map((reading) => {
      const due = Math.floor(now / meter.everySeconds) * meter.everySeconds;
      const value = toldAt(reading, due, set);
      return {
        name: reading.tag,
        address: `${meter.topic} ${reading.field}`,
        raw: String(value),
        value: `${value} ${reading.unit}`.trim(),
      };
    }),
  );

const stationPoints = (now: number): PointState[] =>
  SALTQUAY_STATION.metrics.map(({ tag, device, name, unit, at }) => {
    const value = at(Math.floor(now / SALTQUAY_STATION.everySeconds) * SALTQUAY_STATION.everySeconds);
    return {
      name: tag,
      address: [SALTQUAY_STATION.edge, device, name].filter((part) => part !== '').join(' / '),
      raw: String(value),
      value: `${value} ${unit}`.trim(),
    };
  });
