/** Points as the registers and bits of a device. */
import { isBit, wireAt } from '../../plant/registers.ts';
import type { Point } from '../../plant/thornmere.ts';

/** An error that the protocol library turns into a Modbus exception. */
export class ModbusException extends Error {
  constructor(readonly modbusErrorCode: number) {
    super(`Modbus exception ${modbusErrorCode}`);
  }
}

const ILLEGAL_ADDRESS = 2;

export class RegisterMap {
  private readonly byRegister = new Map<number, { point: Point; word: number }>();
  private readonly byBit = new Map<number, Point>();

  constructor(
    readonly points: readonly Point[],
    private readonly clock: () => number,
  ) {
    for (const point of points) {
      if (isBit(point)) this.byBit.set(point.address, point);
      else
        for (let word = 0; word < wireAt(point, 0).length / 2; word++)
          this.byRegister.set(point.address + word, { point, word });
    }
  }

  /** @throws ModbusException where the device has no such register. */
  register(address: number): number {
    const place = this.byRegister.get(address);
    if (!place) throw new ModbusException(ILLEGAL_ADDRESS);
    const wire = wireAt(place.point, this.clock());
    return (wire[2 * place.word]! << 8) | wire[2 * place.word + 1]!;
  }

  /** Registers of one request at one moment; those that the device does not have hold 0. */
  many(address: number, length: number): number[] {
    return Array.from({ length }, (_, i) => (this.byRegister.has(address + i) ? this.register(address + i) : 0));
  }

  /** @throws ModbusException where the device has no such bit. */
  bit(address: number): boolean {
    const point = this.byBit.get(address);
    if (!point) throw new ModbusException(ILLEGAL_ADDRESS);
    return point.at(this.clock()) !== 0;
  }
}
