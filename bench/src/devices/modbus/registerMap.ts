/** Points as the registers and bits of a device. */
import { isBit, wireAt } from '../../plant/registers.ts';
import type { Point } from '../../plant/points.ts';

/** An error that the protocol library turns into a Modbus exception. */
export class ModbusException extends Error {
  constructor(readonly modbusErrorCode: number) {
    super(`Modbus exception ${modbusErrorCode}`);
  }
}

const ILLEGAL_ADDRESS = 2;
const ILLEGAL_VALUE = 3;

export class RegisterMap {
  private readonly byRegister = new Map<number, { point: Point; word: number }>();
  private readonly byBit = new Map<number, Point>();
  /** Words and bits that were written, by their addresses. */
  private readonly words = new Map<number, number>();
  private readonly bits = new Map<number, boolean>();

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
    const written = this.words.get(address);
    if (written !== undefined) return written;
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
    return this.bits.get(address) ?? point.at(this.clock()) !== 0;
  }

  /** @throws ModbusException where there is no such register, or what it holds is measured. */
  setRegister(address: number, word: number): void {
    const place = this.byRegister.get(address);
    if (!place) throw new ModbusException(ILLEGAL_ADDRESS);
    if (!place.point.writable) throw new ModbusException(ILLEGAL_VALUE);
    this.words.set(address, word);
  }

  /** @throws ModbusException where there is no such bit, or what it holds is measured. */
  setBit(address: number, on: boolean): void {
    const point = this.byBit.get(address);
    if (!point) throw new ModbusException(ILLEGAL_ADDRESS);
    if (!point.writable) throw new ModbusException(ILLEGAL_VALUE);
    this.bits.set(address, on);
  }

  /** What a point holds that was written to, as its wire bytes or bit; null where it was not. */
  heldOf(point: Point): Uint8Array | boolean | null {
    if (isBit(point)) return this.bits.get(point.address) ?? null;
    if (!this.words.has(point.address)) return null;
    const length = wireAt(point, 0).length / 2;
    return Uint8Array.from(
      Array.from({ length }, (_, i) => this.register(point.address + i)).flatMap((word) => [word >> 8, word & 255]),
    );
  }
}
