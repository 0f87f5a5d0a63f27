/** The line from one site to another: nothing of its own at its end, but everything that can go wrong on the way. */
import { Relay } from '../relay/relay.ts';
import type { Device, DeviceState } from './device.ts';

export class SiteLine implements Device {
  readonly line: Relay;

  /** @param port of its near end. @param sitePort where the far site listens. */
  constructor(
    private readonly name: string,
    private readonly place: string,
    host: string,
    port: number,
    sitePort: number,
  ) {
    this.line = new Relay(name, host, port, sitePort);
  }

  get state(): DeviceState {
    return {
      ...this.line.state,
      name: this.name,
      place: this.place,
      protocol: 'HTTP',
      requests: 0,
      memory: null,
      clockError: null,
      points: [],
    };
  }

  start(): Promise<void> {
    return this.line.open();
  }

  stop(): Promise<void> {
    return this.line.stop();
  }
}
