/** A Modbus TCP device of the plant: serves the points' formulas at the moment of the request. */
import ModbusRTU from 'modbus-serial';
import { isBit, rawAt, wireAt } from '../../plant/registers.ts';
import type { Point } from '../../plant/thornmere.ts';
import { Relay } from '../../relay/relay.ts';
import type { Device, DeviceState } from '../device.ts';

const ILLEGAL_ADDRESS = 2;

/** An error that the protocol library turns into a Modbus exception. */
class ModbusException extends Error {
  constructor(readonly modbusErrorCode: number) {
    super(`Modbus exception ${modbusErrorCode}`);
  }
}

/** A device behind its line: whatever is wrong with the line, the device itself goes on counting. */
export class ModbusDevice implements Device {
  /** The way to it from the world. */
  readonly line: Relay;
  private requests = 0;
  private inner: InstanceType<typeof ModbusRTU.ServerTCP> | null = null;
  private readonly byRegister = new Map<number, { point: Point; word: number }>();
  private readonly byBit = new Map<number, Point>();

  constructor(
    private readonly identity: { name: string; place: string; unit: number; points: readonly Point[] },
    host: string,
    port: number,
    private readonly innerPort: number,
    private readonly clock: () => number = () => Date.now() / 1000,
  ) {
    this.line = new Relay(identity.name, host, port, innerPort);
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
    await this.line.open();
  }

  async stop(): Promise<void> {
    await this.line.stop();
    const inner = this.inner;
    if (inner) await new Promise<void>((done) => inner.close(() => done()));
  }

  get state(): DeviceState {
    const now = this.clock();
    return {
      name: this.identity.name,
      place: this.identity.place,
      protocol: 'Modbus TCP',
      ...this.line.state,
      requests: this.requests,
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
