/** A Modbus TCP device of the plant: serves the points' formulas at the moment of the request. */
import type { Point } from '../../plant/points.ts';
import { Relay } from '../../relay/relay.ts';
import type { Device, DeviceState } from '../device.ts';
import { serveModbus } from './modbusServer.ts';
import { pointState } from './pointStates.ts';
import { RegisterMap } from './registerMap.ts';

/** A device behind its line: whatever is wrong with the line, the device itself goes on counting. */
export class ModbusDevice implements Device {
  /** The way to it from the world. */
  readonly line: Relay;
  private requests = 0;
  private stopServing: () => Promise<void> = () => Promise.resolve();
  private readonly map: RegisterMap;

  constructor(
    private readonly identity: { name: string; place: string; unit: number; points: readonly Point[] },
    host: string,
    port: number,
    private readonly innerPort: number,
    private readonly clock: () => number = () => Date.now() / 1000,
  ) {
    this.line = new Relay(identity.name, host, port, innerPort);
    this.map = new RegisterMap(identity.points, clock);
  }

  async start(): Promise<void> {
    const counted =
      <Result>(read: (address: number) => Result) =>
      (address: number): Result => {
        this.requests++;
        return read(address);
      };
    const register = counted((address) => this.map.register(address));
    const bit = counted((address) => this.map.bit(address));
    const many = (address: number, length: number): number[] => {
      this.requests++;
      return this.map.many(address, length);
    };
    this.stopServing = await serveModbus(
      {
        getHoldingRegister: register,
        getInputRegister: register,
        getMultipleHoldingRegisters: many,
        getMultipleInputRegisters: many,
        getCoil: bit,
        getDiscreteInput: bit,
        setRegister: (address: number, word: number) => {
          this.requests++;
          this.map.setRegister(address, word);
        },
        setCoil: (address: number, on: boolean) => {
          this.requests++;
          this.map.setBit(address, on);
        },
      },
      this.innerPort,
      this.identity.unit,
    );
    await this.line.open();
  }

  async stop(): Promise<void> {
    await this.line.stop();
    await this.stopServing();
  }

  get state(): DeviceState {
    const now = this.clock();
    return {
      name: this.identity.name,
      place: this.identity.place,
      protocol: 'Modbus TCP',
      ...this.line.state,
      requests: this.requests,
      memory: null,
      clockError: null,
      points: this.identity.points.map((point) => pointState(point, now, this.map.heldOf(point))),
    };
  }
}
