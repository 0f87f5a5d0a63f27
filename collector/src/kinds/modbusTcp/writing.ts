/** Writing a value into a Modbus device: which function does it, and with what (Modbus Application Protocol V1.1b3, 6.5 ff). */
import { registersFor } from '@wide-ledger/core';
import { rawOf, refusingMisfits } from '../../tagLife/rawValue.ts';
import { WriteRefused, type TagOf } from '../kind.ts';
import { exceptionFault } from './faults.ts';

/** What is written, by the function that does it. */
export type Write =
  | { readonly by: 5; readonly address: number; readonly on: boolean }
  | { readonly by: 6; readonly address: number; readonly word: number }
  | { readonly by: 15; readonly address: number; readonly on: boolean }
  | { readonly by: 16; readonly address: number; readonly data: Uint8Array }
  /** Bits of a register are set where `and` has none: the device does it at once, nobody comes between. */
  | { readonly by: 22; readonly address: number; readonly and: number; readonly or: number };

/**
 * How a value becomes a request. @param several whether the device takes one value, too, by the functions for several.
 * @throws WriteRefused for what cannot be written
 */
export function planWrite(tag: TagOf<'modbus-tcp'>, value: number | bigint | string, several: boolean): Write {
  const { address } = tag.reading;
  const { area, address: at, type } = address;
  if (area === 'input' || area === 'discrete')
    throw new WriteRefused(
      `${area === 'input' ? 'Input registers' : 'Discrete inputs'} can only be read: the protocol has no way to write them.`,
      'READ_ONLY_AREA',
    );
  if (area === 'coil' || type === 'bit') {
    if (value !== 0 && value !== 1) throw new WriteRefused('A single bit is 0 or 1.', 'NO_BIT');
    if (area === 'coil') return { by: several ? 15 : 5, address: at, on: value === 1 };
    const bit = 1 << (address.bit ?? 0);
    return { by: 22, address: at, and: 0xffff & ~bit, or: value === 1 ? bit : 0 };
  }
  const data = refusingMisfits(() => registersFor(rawOf(tag, value), address));
  if (data.length > 2 || several) return { by: 16, address: at, data };
  return { by: 6, address: at, word: (data[0]! << 8) | data[1]! };
}

/** A device that refused. @param by the function that was asked for. */
export function refusedWrite(exception: number, by: Write['by']): WriteRefused {
  const { sentence, code } = exceptionFault(exception);
  const hint =
    by === 22 && exception === 1
      ? ' It cannot set single bits (function 22), and to write the whole register would undo what others set meanwhile.'
      : '';
  return new WriteRefused(`The device did not take it. ${sentence}${hint}`, code);
}
