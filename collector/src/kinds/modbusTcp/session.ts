/** A connection to a Modbus TCP device, on the jsmodbus client. */
import jsmodbus from 'jsmodbus';
import { Socket } from 'node:net';
import { setTimeout as pause } from 'node:timers/promises';
import { awayByNetwork } from '../away.ts';
import { SourceAway, type PolledSession, type Sample, type SourceOf, type TagOf, type Traffic } from '../kind.ts';
import { deviceAway, exceptionFault, isBusy, isOfWholeDevice, isRefusal } from './faults.ts';
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
import { maskWrite } from './maskWrite.ts';
import { sampleOf } from './values.ts';
import { planWrite, refusedWrite, type Write } from './writing.ts';

type Client = InstanceType<typeof jsmodbus.client.TCP>;

/** A timer that is so late was held up by this process. Milliseconds. */
const STOOD_STILL = 300;
/** How long is then waited for what has arrived. Milliseconds. */
const READING_ON = 200;
/** The client's own limit, beyond all of ours. Milliseconds. */
const NEVER = 2 ** 31 - 1;

/** After a busy answer; milliseconds. */
const BUSY_PAUSES = [20, 60, 150];

/** One connection, requests one after the other, each with its time limit. */
export class ModbusSession implements PolledSession<'modbus-tcp'>, Line {
  readonly acquires = 'poll';
  private requests = 0;
  /** The request that was made last, answered or not. */
  private last: Promise<unknown> = Promise.resolve();
  private socket: Socket | null = null;
  /** Whether a request was given up on this connection. */
  private isSpoilt = false;
  private isClosed = false;
  /**
   * What was said of the last request that was given up, until another one is answered: whoever waits behind it when the
   * connection is let go is told so.
   */
  private gaveUp: SourceAway | null = null;
  private client: Client | null = null;
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
    this.isSpoilt = false;
    const socket = new Socket();
    socket.setNoDelay(true);
    await new Promise<void>((done, fail) => {
      const timer = setTimeout(() => settle('ETIMEDOUT'), timeoutMilliseconds);
      const settle = (code: string | null): void => {
        clearTimeout(timer);
        socket.removeAllListeners('connect').removeAllListeners('error');
        if (code === null) {
          done();
          return;
        }
        socket.destroy();
        fail(awayByNetwork(this.host, port, code));
      };
      socket.once('connect', () => settle(null));
      socket.once('error', (error: NodeJS.ErrnoException) => settle(error.code ?? 'ECONNRESET'));
      // The client has to hear "connect" too, hence its creation before.
      this.client = new jsmodbus.client.TCP(socket, unit, NEVER);
      socket.connect(port, this.host);
    });
    socket.on('error', () => undefined);
    // It may have been closed while the connection was made.
    if (this.isClosed) {
      socket.destroy();
      throw this.gaveUp ?? awayByNetwork(this.host, port, 'CLOSED');
    }
    this.socket = socket;
  }

  get traffic(): Traffic {
    const { bytesRead = 0, bytesWritten = 0 } = this.socket ?? {};
    return { requests: this.requests, bytes: bytesRead + bytesWritten };
  }

  /** One request, when those before it are answered. @throws SourceAway when nothing comes back. */
  request(area: Area, start: number, length: number): Promise<Answer> {
    const answer = this.last.then(() => this.transact((client) => dataOf(client, area, start, length)));
    this.last = answer.catch(() => undefined);
    return answer;
  }

  /**
   * Something that is asked of the device, in time; the exception that it answers with instead. After a request that was
   * given up the next one goes over a new connection: its answer could still come, and be taken for another's.
   * @throws SourceAway
   */
  private async transact<Result>(
    ask: (client: Client) => Promise<Result>,
  ): Promise<Result | { readonly exception: number }> {
    if (this.isSpoilt && this.socket) await this.connect();
    const { client } = this;
    const { port } = this.source.connection;
    if (!client || !this.socket || this.socket.destroyed) throw this.gaveUp ?? awayByNetwork(this.host, port, 'CLOSED');
    this.requests++;
    try {
      const answer = await this.inTime(client, ask(client));
      this.gaveUp = null;
      return answer;
    } catch (error) {
      const { err, response } = error as { err?: string; response?: { body?: { code?: number } } };
      if (err === 'ModbusException') {
        this.gaveUp = null;
        return { exception: response?.body?.code ?? 0 };
      }
      this.isSpoilt = err === 'ManuallyCleared';
      if (this.isSpoilt) this.gaveUp = awayByNetwork(this.host, port, 'NO_ANSWER');
      throw this.gaveUp ?? awayByNetwork(this.host, port, 'CLOSED');
    }
  }

  /**
   * Gives a request up when its time is over. Where this process itself stood still, what arrived meanwhile is read first:
   * the device is not to be blamed for it.
   */
  private inTime<Result>(client: Client, answer: Promise<Result>): Promise<Result> {
    let due = performance.now() + this.source.connection.timeoutMilliseconds;
    const look = (): void => {
      const now = performance.now();
      if (now - due < STOOD_STILL) {
        client.manuallyRejectCurrentRequest();
        return;
      }
      due = now + READING_ON;
      timer = setTimeout(look, READING_ON);
    };
    let timer = setTimeout(look, this.source.connection.timeoutMilliseconds);
    return answer.finally(() => clearTimeout(timer));
  }

  async readNow(tag: TagOf<'modbus-tcp'>): Promise<Sample> {
    return (await this.readAll(planRequests([tag], NO_REFUSALS, this.limits)))[0]!;
  }

  /** A busy device is not asked again by itself: whoever writes decides that. */
  async write(tag: TagOf<'modbus-tcp'>, value: number | bigint | string): Promise<void> {
    const write = planWrite(tag, value, this.source.connection.writesSeveral ?? false);
    const sent = this.last.then(() => (write.by === 22 ? this.setBits(write) : this.sendWrite(write)));
    this.last = sent.catch(() => undefined);
    const exception = await sent;
    if (exception === null) return;
    if (isOfWholeDevice(exception)) throw deviceAway(exception);
    throw refusedWrite(exception, write.by);
  }

  /** @returns the exception of a device that refused; null where it took it. @throws SourceAway */
  private async sendWrite(write: Exclude<Write, { by: 22 }>): Promise<number | null> {
    const answer = await this.transact((client) => writeBy(client, write));
    return 'exception' in answer ? answer.exception : null;
  }

  private setBits(write: Extract<Write, { by: 22 }>): Promise<number | null> {
    const { port, unit, timeoutMilliseconds } = this.source.connection;
    return maskWrite({ host: this.host, port, unit, timeoutMilliseconds }, write).catch(
      ({ code }: { code: string }) => {
        throw awayByNetwork(this.host, port, code);
      },
    );
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
    if (isOfWholeDevice(exception)) throw deviceAway(exception);
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
    this.socket?.destroy();
    this.socket = null;
    this.client = null;
  }
}

async function dataOf(client: Client, area: Area, start: number, length: number): Promise<Answer> {
  switch (area) {
    case 'coil':
      return { data: bitsOf((await client.readCoils(start, length)).response.body.valuesAsArray) };
    case 'discrete':
      return { data: bitsOf((await client.readDiscreteInputs(start, length)).response.body.valuesAsArray) };
    case 'input':
      return { data: (await client.readInputRegisters(start, length)).response.body.valuesAsBuffer };
    case 'holding':
      return { data: (await client.readHoldingRegisters(start, length)).response.body.valuesAsBuffer };
  }
}

async function writeBy(client: Client, write: Exclude<Write, { by: 22 }>): Promise<object> {
  switch (write.by) {
    case 5:
      return client.writeSingleCoil(write.address, write.on);
    case 6:
      return client.writeSingleRegister(write.address, write.word);
    case 15:
      return client.writeMultipleCoils(write.address, [write.on]);
    case 16:
      return client.writeMultipleRegisters(write.address, Buffer.from(write.data));
  }
}

const bitsOf = (bits: readonly (number | boolean)[]): boolean[] => Array.from(bits, Boolean);
