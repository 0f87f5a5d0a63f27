/** A service of the plant that answers in JSON, behind its line. */
import { createHash } from 'node:crypto';
import { once } from 'node:events';
import { createServer, type IncomingMessage, type Server, type ServerResponse } from 'node:http';
import { WEATHER_SERVICE, answerTo, weatherAt } from '../../plant/weather.ts';
import { Relay } from '../../relay/relay.ts';
import type { Device, DeviceState } from '../device.ts';

export class ServiceDevice implements Device {
  readonly line: Relay;
  private requests = 0;
  private readonly server: Server;

  constructor(
    private readonly host: string,
    port: number,
    private readonly innerPort: number,
    private readonly clock: () => number = () => Date.now() / 1000,
  ) {
    this.line = new Relay(WEATHER_SERVICE.name, host, port, innerPort);
    this.server = createServer((request, response) => this.answer(request, response));
  }

  async start(): Promise<void> {
    this.server.listen(this.innerPort, this.host);
    await once(this.server, 'listening');
    await this.line.open();
  }

  async stop(): Promise<void> {
    await this.line.stop();
    this.server.closeAllConnections();
    await new Promise((done) => this.server.close(done));
  }

  get state(): DeviceState {
    const { name, place, request, readings } = WEATHER_SERVICE;
    const now = this.moment();
    return {
      name,
      place,
      protocol: 'HTTP, JSON',
      ...this.line.state,
      requests: this.requests,
      memory: null,
      clockError: null,
      points: readings.map((reading) => ({
        name: reading.tag,
        address: `${request} ${reading.field}`,
        raw: String(weatherAt(reading, now)),
        value: `${weatherAt(reading, now)} ${reading.unit}`,
      })),
    };
  }

  /** When the station looked at its instruments last. Seconds since 1970. */
  private moment(): number {
    return Math.floor(this.clock() / WEATHER_SERVICE.everySeconds) * WEATHER_SERVICE.everySeconds;
  }

  private answer({ url = '/', headers }: IncomingMessage, response: ServerResponse): void {
    this.requests++;
    const found = answerTo(url, this.moment());
    if (!found) {
      response.writeHead(404, { 'content-type': 'application/json' }).end('{"error":"There is no such thing here."}');
      return;
    }
    const body = JSON.stringify(found.body);
    const etag = `"${createHash('sha256').update(body).digest('hex').slice(0, 16)}"`;
    const common = { etag, 'cache-control': found.holdsSeconds > 0 ? `max-age=${found.holdsSeconds}` : 'no-cache' };
    if (headers['if-none-match'] === etag) response.writeHead(304, common).end();
    else response.writeHead(200, { ...common, 'content-type': 'application/json' }).end(body);
  }
}
