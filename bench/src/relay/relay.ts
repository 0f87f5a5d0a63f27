/** A line between a device and the world: TCP through a gate that can fail in the ways that lines do. */
import { connect, createServer, type Server, type Socket } from 'node:net';
import { Transform } from 'node:stream';
import type { Fault, Line, LineState, ScriptedFault } from './fault.ts';
import { FaultScript } from './faultScript.ts';

/** After which TCP sends a part again that was not acknowledged, twice as long each time; the least of usual systems. */
const SENT_AGAIN = 200;

/** How much later a part comes that may be lost each time it is sent. @param chance from 0 to 1, drawn for each sending. */
export function delayByLoss(percent: number, chance: () => number): number {
  let delay = 0;
  for (let wait = SENT_AGAIN; chance() * 100 < percent; wait *= 2) delay += wait;
  return delay;
}

interface Pair {
  readonly outer: Socket;
  readonly inner: Socket;
}

/** A relay from a port of the world to a device's own; it knows nothing of what is spoken. */
export class Relay implements Line {
  private gate: Server | null = null;
  private readonly pairs = new Set<Pair>();
  private fault: Fault | null = null;
  private changedAt = new Date();
  private readonly script = new FaultScript((fault) => void this.set(fault));
  private flapping: NodeJS.Timeout | null = null;
  /** One change of the gate after the other. */
  private turning: Promise<void> = Promise.resolve();
  /** What is on its way while the line is stalled. */
  private held: (() => void)[] = [];

  /** @param name of the line, for people. */
  constructor(
    readonly name: string,
    private readonly host: string,
    private readonly port: number,
    private readonly innerPort: number,
    private readonly innerHost = '127.0.0.1',
  ) {}

  /** Opens the line. @throws Error with a sentence where its port is taken. */
  async open(): Promise<void> {
    const gate = createServer((outer) => this.join(outer));
    await new Promise<void>((done, fail) => {
      gate.once('error', (error: NodeJS.ErrnoException) => {
        fail(
          error.code === 'EADDRINUSE'
            ? new Error(
                `Port ${this.port} of the test bench's ${this.name} is taken. Set WIDE_LEDGER_DEVICE_PORT to a free one. (EADDRINUSE)`,
              )
            : error,
        );
      });
      gate.listen(this.port, this.host, done);
    });
    this.gate = gate;
  }

  /** Makes something wrong with the line, at once and for connections that stand, or everything right again. */
  async set(fault: Fault | null): Promise<void> {
    this.endFlapping();
    this.fault = fault;
    this.changedAt = new Date();
    await this.turn(fault?.kind !== 'cut');
    if (fault?.kind === 'flapping') this.flap(fault, true);
    if (fault?.kind === 'stalled' || fault?.kind === 'cut') return;
    const held = this.held;
    this.held = [];
    for (const release of held) release();
  }

  /** Plays faults one after the other, each at its time; a script that is playing ends. */
  play(script: readonly ScriptedFault[]): void {
    this.script.play(script);
  }

  async stop(): Promise<void> {
    this.script.end();
    this.endFlapping();
    this.fault = null;
    await this.turn(false);
  }

  get state(): LineState {
    const { host, port, fault } = this;
    return { host, port, fault, connections: this.pairs.size, changedAt: this.changedAt.toISOString() };
  }

  /** Opens the gate, or closes it and what stands, once what was begun before is done. */
  private turn(open: boolean): Promise<void> {
    this.turning = this.turning.then(async () => {
      if (!open) await this.close();
      else if (!this.gate) await this.open();
    });
    return this.turning;
  }

  /** @param whole how the line is just now. */
  private flap(fault: Extract<Fault, { kind: 'flapping' }>, whole: boolean): void {
    const next = (): void => {
      void this.turn(!whole).then(() => {
        if (this.fault === fault) this.flap(fault, !whole);
      });
    };
    this.flapping = setTimeout(next, whole ? fault.wholeMilliseconds : fault.cutMilliseconds);
  }

  private endFlapping(): void {
    if (this.flapping) clearTimeout(this.flapping);
    this.flapping = null;
  }

  private async close(): Promise<void> {
    const { gate } = this;
    if (!gate) return;
    this.gate = null;
    const closed = new Promise((done) => gate.close(done));
    for (const { outer, inner } of this.pairs) {
      outer.destroy();
      inner.destroy();
    }
    await closed;
  }

  private join(outer: Socket): void {
    const pair = { outer, inner: connect(this.innerPort, this.innerHost) };
    this.pairs.add(pair);
    for (const socket of [pair.outer, pair.inner]) {
      socket.setNoDelay(true);
      socket.on('error', () => undefined);
      socket.on('close', () => {
        this.pairs.delete(pair);
        pair.outer.destroy();
        pair.inner.destroy();
      });
    }
    pair.outer.pipe(this.passage('in')).pipe(pair.inner);
    pair.inner.pipe(this.passage('out')).pipe(pair.outer);
  }

  /** What happens to bytes on their way, by the fault of the moment. */
  private passage(way: 'in' | 'out'): Transform {
    return new Transform({
      transform: (bytes: Buffer, _encoding, pass) => {
        const { fault } = this;
        const later = (milliseconds: number): void => void setTimeout(() => pass(null, bytes), milliseconds);
        if (fault?.kind === 'stalled') this.held.push(() => pass(null, bytes));
        else if (fault?.kind === 'slow') later(fault.milliseconds);
        else if (fault?.kind === 'lossy') later(delayByLoss(fault.percent, Math.random));
        else if (fault?.kind === 'narrow') later((bytes.length / fault.bytesPerSecond) * 1000);
        else if (fault?.kind === 'deaf' && way === 'out') pass();
        else if (fault?.kind === 'doubled' && way === 'out') pass(null, Buffer.concat([bytes, bytes]));
        else pass(null, bytes);
      },
    });
  }
}
