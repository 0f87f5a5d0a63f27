/** A connection to a Modbus TCP device. */
import { setTimeout as pause } from 'node:timers/promises';
import { awayByNetwork } from '../away.ts';
import { SourceAway, type PolledSession, type Sample, type SourceOf, type TagOf, type Traffic } from '../kind.ts';
import { ModbusClient, NoAnswer } from './client.ts';
import { deviceAway, exceptionFault, isBusy, isOfWholeDevice, isRefusal } from './faults.ts';
import { readRequest, writeRequest, type Request } from './frames.ts';
import {
  NO_REFUSALS,
  USUAL_LIMITS,
  planRequests,
  readsAlong,
  type Answer,
  type Area,
  type Line,
  type ReadRequest,
  type RequestLimits,
} from './requests.ts';
import { sampleOf } from './values.ts';
import { planWrite, refusedWrite } from './writing.ts';

/** After a busy answer; milliseconds. */
const BUSY_PAUSES = [20, 60, 150];

/** One connection, requests one after the other, each with its time limit. */
export class ModbusSession implements PolledSession<'modbus-tcp'>, Line {
  readonly acquires = 'poll';
  private requests = 0;
  /** The request that was made last, answered or not. */
  private last: Promise<unknown> = Promise.resolve();
  private isClosed = false;
  /**
   * What was said of the last request that was given up, until another one is answered: whoever waits behind it when the
   * connection is let go is told so.
   */
  private gaveUp: SourceAway | null = null;
  private client: ModbusClient | null = null;
  /** What the device refuses: one wrong address costs one tag. */
  private readonly refusals = { refused: new Set<number>(), strict: new Set<number>() };
  private planned: { tags: readonly TagOf<'modbus-tcp'>[]; learnt: number; requests: ReadRequest[] } | null = null;
  private readonly host: string;
  private readonly limits: RequestLimits;

  constructor(private readonly source: SourceOf<'modbus-tcp'>) {
    const { host, most = USUAL_LIMITS.most, gap = USUAL_LIMITS.gap } = source.connection;
    this.host = host || '127.0.0.1';
    this.limits = { most, gap };
  }

  async connect(): Promise<void> {
    const { port, unit, timeoutMilliseconds } = this.source.connection;
    this.drop();
    const client = await ModbusClient.open(this.host, port, unit, timeoutMilliseconds).catch((error: NoAnswer) => {
      throw this.away(error);
    });
    // It may have been closed while the connection was made.
    if (this.isClosed) {
      client.close();
      throw this.gaveUp ?? this.away(new NoAnswer('CLOSED'));
    }
    this.client = client;
  }

  private away({ code, detail }: NoAnswer): SourceAway {
    return awayByNetwork(this.host, this.source.connection.port, code, detail);
  }

  private behindGateway(exception: number): SourceAway {
    return deviceAway(exception, `${this.host}:${this.source.connection.port}`);
  }

  get traffic(): Traffic {
    return { requests: this.requests, bytes: this.client?.bytes ?? 0 };
  }

  /** One request, when those before it are answered. @throws SourceAway when nothing comes back. */
  request(area: Area, start: number, length: number): Promise<Answer> {
    return this.inTurn(readRequest(area, start, length));
  }

  private inTurn(request: Request): Promise<Answer> {
    const answer = this.last.then(() => this.transact(request));
    this.last = answer.catch(() => undefined);
    return answer;
  }

  /**
   * Something that is asked of the device, in time. After a request that was given up the next one goes over a new
   * connection.
   * @throws SourceAway
   */
  private async transact(request: Request): Promise<Answer> {
    if (this.gaveUp?.code === 'NO_ANSWER' && this.client) await this.connect();
    if (!this.client) throw this.gaveUp ?? this.away(new NoAnswer('CLOSED'));
    this.requests++;
    try {
      const answer = await this.client.ask(request, this.source.connection.timeoutMilliseconds);
      this.gaveUp = null;
      return answer;
    } catch (error) {
      if (!(error instanceof NoAnswer)) throw error;
      if (error.code === 'NO_ANSWER' || error.code === 'NOT_MODBUS') this.gaveUp = this.away(error);
      throw this.gaveUp ?? this.away(error);
    }
  }

  async readNow(tag: TagOf<'modbus-tcp'>): Promise<Sample> {
    return (await this.readAll(planRequests([tag], NO_REFUSALS, this.limits)))[0]!;
  }

  /** A busy device is not asked again by itself: whoever writes decides that. */
  async write(tag: TagOf<'modbus-tcp'>, value: number | bigint | string): Promise<void> {
    const write = planWrite(tag, value, this.source.connection.writesSeveral ?? false);
    const answer = await this.inTurn(writeRequest(write));
    if (!('exception' in answer)) return;
    if (isOfWholeDevice(answer.exception)) throw this.behindGateway(answer.exception);
    throw refusedWrite(answer.exception, write.by);
  }

  async read(tags: readonly TagOf<'modbus-tcp'>[]): Promise<Sample[]> {
    const learnt = this.refusals.refused.size + this.refusals.strict.size;
    if (this.planned?.tags !== tags || this.planned.learnt !== learnt) {
      this.planned = { tags, learnt, requests: planRequests(tags, this.refusals, this.limits) };
    }
    return this.readAll(this.planned.requests);
  }

  private async readSpan(request: ReadRequest): Promise<Sample[]> {
    const { area, start, length, items } = request;
    const answer = await this.patiently(area, start, length);
    if ('data' in answer) return items.map((tag) => sampleOf(tag, start, answer.data));
    const { exception } = answer;
    if (isOfWholeDevice(exception)) throw this.behindGateway(exception);
    if (isRefusal(exception) && (items.length > 1 || readsAlong(request))) return this.readInParts(request);
    if (isRefusal(exception)) for (const { id } of items) this.refusals.refused.add(id);
    const { status, ...fault } = exceptionFault(exception);
    return items.map((tag) => ({ tag: tag.id, value: null, status, sourceTime: null, fault }));
  }

  /** A device that has no time just now is asked again after a moment: that says nothing about its addresses. */
  private async patiently(area: Area, start: number, length: number): Promise<Answer> {
    for (let attempt = 0; ; attempt++) {
      const answer = await this.persistently(area, start, length);
      if ('data' in answer || !isBusy(answer.exception) || attempt === BUSY_PAUSES.length) return answer;
      await pause(BUSY_PAUSES[attempt]);
    }
  }

  /** A request without an answer is made again, as often as the connection allows. */
  private async persistently(area: Area, start: number, length: number): Promise<Answer> {
    for (let left = this.source.connection.retries ?? 0; ; left--) {
      try {
        return await this.request(area, start, length);
      } catch (error) {
        if (left === 0 || !(error instanceof SourceAway) || error.code !== 'NO_ANSWER') throw error;
      }
    }
  }

  /**
   * A request that the device refused, without what nobody asked for, or else in halves: until it is known which of its
   * addresses are refused. The others stay together.
   */
  private async readInParts(request: ReadRequest): Promise<Sample[]> {
    for (const { id } of request.items) this.refusals.strict.add(id);
    const plain = planRequests(request.items, this.refusals, this.limits);
    if (readsAlong(request) || plain.length > 1) return this.readAll(plain);
    const middle = Math.ceil(request.items.length / 2);
    const halves = [request.items.slice(0, middle), request.items.slice(middle)];
    return this.readAll(halves.flatMap((items) => planRequests(items, this.refusals, this.limits)));
  }

  private async readAll(requests: readonly ReadRequest[]): Promise<Sample[]> {
    const { pauseMilliseconds = 0 } = this.source.connection;
    if (pauseMilliseconds === 0) return (await Promise.all(requests.map((request) => this.readSpan(request)))).flat();
    const samples: Sample[] = [];
    for (const request of requests) {
      if (samples.length > 0) await pause(pauseMilliseconds);
      samples.push(...(await this.readSpan(request)));
    }
    return samples;
  }

  close(): void {
    this.isClosed = true;
    this.drop();
  }

  private drop(): void {
    this.client?.close();
    this.client = null;
  }
}
