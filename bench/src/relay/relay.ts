/** A line between a device and the world: TCP through a gate that can fail in the ways that lines do. */
import { connect, createServer, type Server, type Socket } from 'node:net';
import { Transform } from 'node:stream';

/** What is wrong with a line. */
export type Fault =
  /** Every connection drops, and new ones are refused: a pulled plug. */
  | { readonly kind: 'cut' }
  /** Connections stand and new ones are accepted, but nothing gets through: a firewall that swallows. */
  | { readonly kind: 'stalled' }
  /** Every byte comes so much later. */
  | { readonly kind: 'slow'; readonly milliseconds: number }
  /** So many bytes a second, each way. */
  | { readonly kind: 'narrow'; readonly bytesPerSecond: number }
  /** What the world says gets through, and no answer comes back. */
  | { readonly kind: 'deaf' }
  /** Everything that the device says comes twice. */
  | { readonly kind: 'doubled' };

/** A fault at a time: null ends what is wrong. */
export interface ScriptedFault {
  /** Milliseconds after the script was begun. */
  readonly after: number;
  readonly fault: Fault | null;
}

export interface LineState {
  readonly host: string;
  readonly port: number;
  /** Null while the line is as it should be. */
  readonly fault: Fault | null;
  readonly connections: number;
  readonly changedAt: string;
}

interface Pair {
  readonly outer: Socket;
  readonly inner: Socket;
}

/** A relay from a port of the world to a device's own; it knows nothing of what is spoken. */
export class Relay {
  private gate: Server | null = null;
  private readonly pairs = new Set<Pair>();
  private fault: Fault | null = null;
  private changedAt = new Date();
  private script: NodeJS.Timeout[] = [];
  /** What is on its way while the line is stalled. */
  private held: (() => void)[] = [];

  /** @param name of the line, for people. */
  constructor(
    readonly name: string,
    private readonly host: string,
    private readonly port: number,
    private readonly innerPort: number,
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
    this.fault = fault;
    this.changedAt = new Date();
    if (fault?.kind === 'cut') return this.close();
    if (!this.gate) await this.open();
    if (fault?.kind === 'stalled') return;
    const held = this.held;
    this.held = [];
    for (const release of held) release();
  }

  /** Plays faults one after the other, each at its time; a script that is playing ends. */
  play(script: readonly ScriptedFault[]): void {
    this.endScript();
    this.script = script.map(({ after, fault }) => setTimeout(() => void this.set(fault), after));
  }

  async stop(): Promise<void> {
    this.endScript();
    await this.close();
  }

  get state(): LineState {
    const { host, port, fault } = this;
    return { host, port, fault, connections: this.pairs.size, changedAt: this.changedAt.toISOString() };
  }

  private endScript(): void {
    for (const timer of this.script) clearTimeout(timer);
    this.script = [];
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
    const pair = { outer, inner: connect(this.innerPort, '127.0.0.1') };
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
        else if (fault?.kind === 'narrow') later((bytes.length / fault.bytesPerSecond) * 1000);
        else if (fault?.kind === 'deaf' && way === 'out') pass();
        else if (fault?.kind === 'doubled' && way === 'out') pass(null, Buffer.concat([bytes, bytes]));
        else pass(null, bytes);
      },
    });
  }
}
