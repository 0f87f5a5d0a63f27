/** A Modbus TCP device of the plant: serves the points' formulas at the moment of the request. */
import ModbusRTU from 'modbus-serial';
import { createServer, connect, type Server, type Socket } from 'node:net';
import { isBit, rawAt, wireAt } from '../plant/registers.ts';
import type { Point } from '../plant/thornmere.ts';

const ILLEGAL_ADDRESS = 2;

export interface DeviceState {
  readonly name: string;
  readonly place: string;
  readonly protocol: 'Modbus TCP';
  readonly host: string;
  readonly port: number;
  readonly connected: boolean;
  readonly clients: number;
  readonly requests: number;
  readonly changedAt: string;
  readonly points: readonly { name: string; address: string; raw: string; value: string }[];
}

/** An error that the protocol library turns into a Modbus exception. */
class ModbusException extends Error {
  constructor(readonly modbusErrorCode: number) {
    super(`Modbus exception ${modbusErrorCode}`);
  }
}

/**
 * The device listens behind a gate: cutting the gate drops every connection and refuses new ones, as a radio link
 * or a pulled plug does, while the device itself goes on counting.
 */
export class ModbusDevice {
  private gate: Server | null = null;
  private readonly sockets = new Set<Socket>();
  private requests = 0;
  private changedAt = new Date();
  private inner: InstanceType<typeof ModbusRTU.ServerTCP> | null = null;
  private readonly byRegister = new Map<number, { point: Point; word: number }>();
  private readonly byBit = new Map<number, Point>();

  constructor(
    private readonly identity: { name: string; place: string; unit: number; points: readonly Point[] },
    private readonly host: string,
    private readonly port: number,
    private readonly innerPort: number,
    private readonly clock: () => number = () => Date.now() / 1000,
  ) {
    for (const point of identity.points) {
      if (isBit(point)) this.byBit.set(point.address, point);
      else
        for (let word = 0; word < wireAt(point, 0).length / 2; word++)
          this.byRegister.set(point.address + word, { point, word });
    }
  }

  async start(): Promise<void> {
    const register = (address: number): number => {
      const place = this.byRegister.get(address);
      if (!place) throw new ModbusException(ILLEGAL_ADDRESS);
      const wire = wireAt(place.point, this.clock());
      return (wire[2 * place.word]! << 8) | wire[2 * place.word + 1]!;
    };
    const bit = (address: number): boolean => {
      const point = this.byBit.get(address);
      if (!point) throw new ModbusException(ILLEGAL_ADDRESS);
      return point.at(this.clock()) !== 0;
    };
    const counted =
      <Result>(read: (address: number) => Result) =>
      (address: number): Result => {
        this.requests++;
        return read(address);
      };
    // All registers of one request at one moment: the library asks for them together.
    const many = (address: number, length: number): number[] => {
      this.requests++;
      return Array.from({ length }, (_, i) => (this.byRegister.get(address + i) ? register(address + i) : 0));
    };
    this.inner = new ModbusRTU.ServerTCP(
      {
        getHoldingRegister: counted(register),
        getInputRegister: counted(register),
        getMultipleHoldingRegisters: many,
        getMultipleInputRegisters: many,
        getCoil: counted(bit),
        getDiscreteInput: counted(bit),
      },
      { host: '127.0.0.1', port: this.innerPort, unitID: this.identity.unit, debug: false },
    );
    this.inner.on('socketError', () => undefined);
    await new Promise((done) => this.inner!.on('initialized', done));
    await this.restore();
  }

  async restore(): Promise<void> {
    if (this.gate) return;
    const gate = createServer((outer) => {
      const inner = connect(this.innerPort, '127.0.0.1');
      for (const socket of [outer, inner]) {
        socket.setNoDelay(true);
        this.sockets.add(socket);
        socket.on('error', () => undefined);
        socket.on('close', () => {
          this.sockets.delete(socket);
          outer.destroy();
          inner.destroy();
        });
      }
      outer.pipe(inner).pipe(outer);
    });
    await new Promise<void>((done, fail) => {
      gate.once('error', (error: NodeJS.ErrnoException) => {
        fail(
          error.code === 'EADDRINUSE'
            ? new Error(
                `Port ${this.port} of the test bench's ${this.identity.name} is taken. Set WIDE_LEDGER_DEVICE_PORT to a free one. (EADDRINUSE)`,
              )
            : error,
        );
      });
      gate.listen(this.port, this.host, done);
    });
    this.gate = gate;
    this.changedAt = new Date();
  }

  async cut(): Promise<void> {
    const gate = this.gate;
    if (!gate) return;
    this.gate = null;
    const closed = new Promise((done) => gate.close(done));
    for (const socket of this.sockets) socket.destroy();
    await closed;
    this.changedAt = new Date();
  }

  async stop(): Promise<void> {
    await this.cut();
    const inner = this.inner;
    if (inner) await new Promise<void>((done) => inner.close(() => done()));
  }

  get state(): DeviceState {
    const now = this.clock();
    return {
      name: this.identity.name,
      place: this.identity.place,
      protocol: 'Modbus TCP',
      host: this.host,
      port: this.port,
      connected: this.gate !== null,
      clients: this.sockets.size / 2,
      requests: this.requests,
      changedAt: this.changedAt.toISOString(),
      points: this.identity.points.map((point) => ({
        name: point.tag,
        address: isBit(point)
          ? `${point.area} ${point.address}`
          : `${point.area} ${point.address} · ${point.register} ${point.order}`,
        raw: isBit(point) ? String(point.at(now)) : Buffer.from(wireAt(point, now)).toString('hex').toUpperCase(),
        value: String(Math.round(rawAt(point, now) * 1000) / 1000),
      })),
    };
  }
}
