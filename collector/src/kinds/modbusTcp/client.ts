/** One TCP connection to a Modbus device: a request at a time, each with its time limit. */
import { Socket } from 'node:net';
import { BrokenAnswer, MessageReader, answerTo, frameOf, type Message, type Request } from './frames.ts';
import type { Answer } from './requests.ts';

/** A timer that is so late was held up by this process. Milliseconds. */
const STOOD_STILL = 300;
/** How long is then waited for what has arrived. Milliseconds. */
const READING_ON = 200;

/** Why a connection gives no answer: `code` names it as errors of the network are named; `detail` says more where there is more. */
export class NoAnswer extends Error {
  constructor(
    readonly code: string,
    readonly detail: string | null = null,
  ) {
    super(detail ?? code);
  }
}

interface Waiting {
  readonly transaction: number;
  readonly request: Request;
  done(answer: Answer): void;
  fail(error: NoAnswer): void;
}

/** Nothing that a device sends ends more than this connection. */
export class ModbusClient {
  /** Over all connections: a gateway that gives a late answer to the next connection is not believed. */
  private static transaction = 0;
  private readonly reader = new MessageReader();
  private waiting: Waiting | null = null;
  /** Why it can no longer be used; null while it can. */
  private ended: NoAnswer | null = null;

  private constructor(
    private readonly socket: Socket,
    private readonly unit: number,
  ) {
    socket.on('data', (piece) => this.take(piece));
    socket.on('error', (error: NodeJS.ErrnoException) => this.end(new NoAnswer(error.code ?? 'ECONNRESET')));
    socket.on('close', () => this.end(new NoAnswer('CLOSED')));
    socket.on('end', () => this.end(new NoAnswer('CLOSED')));
  }

  /** @throws NoAnswer where the connection is refused, or does not come in time */
  static async open(host: string, port: number, unit: number, timeoutMilliseconds: number): Promise<ModbusClient> {
    const socket = new Socket();
    socket.setNoDelay(true);
    await new Promise<void>((done, fail) => {
      const settle = (code: string | null): void => {
        clearTimeout(timer);
        socket.removeAllListeners();
        if (code === null) {
          done();
          return;
        }
        socket.on('error', () => undefined).destroy();
        fail(new NoAnswer(code));
      };
      const timer = setTimeout(() => settle('ETIMEDOUT'), timeoutMilliseconds);
      socket.once('connect', () => settle(null));
      socket.once('error', (error: NodeJS.ErrnoException) => settle(error.code ?? 'ECONNRESET'));
      socket.connect(port, host);
    });
    return new ModbusClient(socket, unit);
  }

  get bytes(): number {
    return (this.socket.bytesRead ?? 0) + (this.socket.bytesWritten ?? 0);
  }

  get isOpen(): boolean {
    return this.ended === null;
  }

  /**
   * Asks, and waits for the answer; one request at a time.
   * @throws NoAnswer: the connection has to be opened anew then, since the answer may still come.
   */
  ask(request: Request, timeoutMilliseconds: number): Promise<Answer> {
    if (this.ended) return Promise.reject(this.ended);
    const transaction = (ModbusClient.transaction = (ModbusClient.transaction % 0xffff) + 1);
    return new Promise<Answer>((done, fail) => {
      const stop = this.limit(timeoutMilliseconds);
      this.waiting = {
        transaction,
        request,
        done: (answer) => {
          stop();
          done(answer);
        },
        fail: (error) => {
          stop();
          fail(error);
        },
      };
      this.socket.write(frameOf(transaction, this.unit, request));
    });
  }

  /**
   * Gives a request up when its time is over. Where this process itself stood still, what arrived meanwhile is read first:
   * the device is not to be blamed for it.
   */
  private limit(timeoutMilliseconds: number): () => void {
    let due = performance.now() + timeoutMilliseconds;
    const look = (): void => {
      const now = performance.now();
      if (now - due < STOOD_STILL) {
        this.end(new NoAnswer('NO_ANSWER'));
        return;
      }
      due = now + READING_ON;
      timer = setTimeout(look, READING_ON);
    };
    let timer = setTimeout(look, timeoutMilliseconds);
    return () => clearTimeout(timer);
  }

  private take(piece: Buffer): void {
    try {
      for (const message of this.reader.take(piece)) this.hear(message);
    } catch (error) {
      if (!(error instanceof BrokenAnswer)) throw error;
      this.end(new NoAnswer('NOT_MODBUS', error.message));
    }
  }

  private hear({ transaction, unit, pdu }: Message): void {
    const { waiting } = this;
    // Not what is waited for: an answer given twice, or to a request of another client behind the same gateway.
    if (waiting?.transaction !== transaction) return;
    if (unit !== this.unit) throw new BrokenAnswer(`unit ${this.unit} was asked, and unit ${unit} answered`);
    const answer = answerTo(waiting.request, pdu);
    this.waiting = null;
    waiting.done(answer);
  }

  private end(why: NoAnswer): void {
    if (this.ended) return;
    this.ended = why;
    this.socket.destroy();
    const { waiting } = this;
    this.waiting = null;
    waiting?.fail(why);
  }

  close(): void {
    this.end(new NoAnswer('CLOSED'));
  }
}
