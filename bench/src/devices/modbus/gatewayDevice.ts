/** Several Modbus units behind one address, each with its manner, and a generator of signals among them. */
import { setTimeout as wait } from 'node:timers/promises';
import { FIRST_SIGNALS, SIGNALS_UNIT, signalPoint, type Manner, type Unit } from '../../plant/gateway.ts';
import type { Signal } from '../../plant/signals.ts';
import { Relay } from '../../relay/relay.ts';
import type { Device, DeviceState } from '../device.ts';
import { serveModbus } from './modbusServer.ts';
import { pointState } from './pointStates.ts';
import { ModbusException, RegisterMap } from './registerMap.ts';

const DEVICE_BUSY = 6;
const TARGET_SILENT = 11;
/** The slow unit answers after this; the busy one refuses one request in so many. */
const SLOW_MILLISECONDS = 400;
const BUSY_ONE_IN = 4;
/** Every unit id is answered by the gateway itself. */
const ALL_UNITS = 255;

interface Behind {
  readonly name: string;
  readonly manner: Manner;
  readonly map: RegisterMap;
}

export class GatewayDevice implements Device {
  readonly line: Relay;
  private requests = 0;
  private stopServing: () => Promise<void> = () => Promise.resolve();
  private readonly units = new Map<number, Behind>();
  private readonly signals: Signal[] = [...FIRST_SIGNALS];

  constructor(
    private readonly identity: { name: string; place: string; units: readonly Unit[] },
    host: string,
    port: number,
    private readonly innerPort: number,
    private readonly clock: () => number = () => Date.now() / 1000,
  ) {
    this.line = new Relay(identity.name, host, port, innerPort);
    for (const { unit, name, manner, points } of identity.units)
      this.units.set(unit, { name, manner, map: new RegisterMap(points, clock) });
    const points = FIRST_SIGNALS.map((_, i) => signalPoint(i + 1, () => this.signals[i]!));
    this.units.set(SIGNALS_UNIT, { name: 'Signals', manner: 'well', map: new RegisterMap(points, clock) });
  }

  /** Sets a signal, counted from 1. @returns whether there is such a one. */
  setSignal(number: number, signal: Signal): boolean {
    if (!this.signals[number - 1]) return false;
    this.signals[number - 1] = signal;
    return true;
  }

  async start(): Promise<void> {
    const asked = async (unit: number): Promise<RegisterMap> => {
      this.requests++;
      const behind = this.units.get(unit);
      if (!behind || behind.manner === 'off') throw new ModbusException(TARGET_SILENT);
      if (behind.manner === 'slow') await wait(SLOW_MILLISECONDS);
      if (behind.manner === 'busy' && this.requests % BUSY_ONE_IN === 0) throw new ModbusException(DEVICE_BUSY);
      return behind.map;
    };
    const one = async (address: number, unit: number): Promise<number> => (await asked(unit)).register(address);
    // The library takes several values by a callback, single ones by a promise.
    const many = (
      address: number,
      length: number,
      unit: number,
      done: (error: Error | null, values: number[]) => void,
    ): void => {
      asked(unit).then(
        (map) => done(null, map.many(address, length)),
        (error: unknown) => done(error as Error, []),
      );
    };
    const bit = async (address: number, unit: number): Promise<boolean> => (await asked(unit)).bit(address);
    this.stopServing = await serveModbus(
      {
        getHoldingRegister: one,
        getInputRegister: one,
        getMultipleHoldingRegisters: many,
        getMultipleInputRegisters: many,
        getCoil: bit,
        getDiscreteInput: bit,
      },
      this.innerPort,
      ALL_UNITS,
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
      points: [...this.units].flatMap(([unit, { manner, map }]) =>
        map.points.map((point, i) => {
          const state = pointState(point, now);
          const signal = unit === SIGNALS_UNIT ? { signal: { number: i + 1, ...this.signals[i]! } } : {};
          const how = manner === 'well' ? '' : ` (${manner})`;
          return { ...state, address: `unit ${unit}${how} · ${state.address}`, ...signal };
        }),
      ),
    };
  }
}
