/** What a Modbus device's exceptions mean for how it is asked. */
import { explain, modbusFault } from '@wide-ledger/core';
import { SourceAway } from '../kind.ts';

export interface ExceptionFault {
  readonly sentence: string;
  readonly code: string;
  readonly status: number;
}

/** What a device's exception means for the tags that were asked for. */
export function exceptionFault(exception: number, who?: string): ExceptionFault {
  const fault = modbusFault(exception, who);
  return { sentence: explain(fault), code: `MODBUS_${String(exception).padStart(2, '0')}`, status: fault.status };
}

/** The device answers, and has no time for the question now: acknowledge, busy. */
export const isBusy = (exception: number): boolean => exception === 5 || exception === 6;

/** The device does not take the question: another one, of fewer addresses, may be taken. */
export const isRefusal = (exception: number): boolean => exception >= 1 && exception <= 3;

/** The gateway's two: nothing behind it was asked, so no tag of the device can be read. */
export const isOfWholeDevice = (exception: number): boolean => exception === 10 || exception === 11;

/** The error that a gateway's exception (0x0A, 0x0B) amounts to: the device behind it does not answer. @param gateway its host and port */
export function deviceAway(exception: number, gateway: string): SourceAway {
  const { sentence, code, status } = exceptionFault(exception, `The gateway at ${gateway}`);
  return new SourceAway(sentence, code, status);
}
