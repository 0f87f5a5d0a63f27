/** A second way to a controller, over a line of its own: the same device at another address. */
import { Relay } from '../../relay/relay.ts';
import type { Device, DeviceState } from '../device.ts';

export class SecondWay implements Device {
  readonly line: Relay;

  /** @param to what it leads to. @param innerPort where that listens itself. */
  constructor(
    private readonly to: Device,
    host: string,
    port: number,
    innerPort: number,
  ) {
    this.line = new Relay(this.name, host, port, innerPort);
  }

  private get name(): string {
    return `${this.to.state.name}, second way`;
  }

  get state(): DeviceState {
    return { ...this.to.state, ...this.line.state, name: this.name, memory: null, clockError: null, points: [] };
  }

  start(): Promise<void> {
    return this.line.open();
  }

  stop(): Promise<void> {
    return this.line.stop();
  }
}
