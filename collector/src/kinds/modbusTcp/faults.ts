/** What can go wrong on the way to a Modbus device: code, sentence for a person, OPC UA status. */
import { Status } from '@wide-ledger/core';
import { SourceAway } from '../kind.ts';

/** Exception codes of the Modbus Application Protocol V1.1b3, section 7. */
const EXCEPTIONS: Record<number, { words: string; advice: string; status: number }> = {
  1: {
    words: 'illegal function',
    advice: 'The device does not know this kind of register; choose another area.',
    status: Status.BadNotSupported,
  },
  2: {
    words: 'illegal data address',
    advice: 'The device has no register there; check the address, and whether its manual counts from 0 or 1.',
    status: Status.BadNodeIdUnknown,
  },
  3: {
    words: 'illegal data value',
    advice: 'The device refuses the length of the request; check the register type.',
    status: Status.BadOutOfRange,
  },
  4: {
    words: 'device failure',
    advice: 'The device reports a fault of its own; look at it on site.',
    status: Status.BadDeviceFailure,
  },
  5: {
    words: 'acknowledge',
    advice: 'The device needs longer than it was given; raise the time-out.',
    status: Status.BadTimeout,
  },
  6: {
    words: 'device busy',
    advice: 'The device has no time just now; read it less often.',
    status: Status.BadTimeout,
  },
  10: {
    words: 'gateway path unavailable',
    advice: 'The gateway is not set up for this unit number.',
    status: Status.BadNoCommunication,
  },
  11: {
    words: 'gateway target does not respond',
    advice: 'The gateway works, the device behind it does not answer; check its power and the unit number.',
    status: Status.BadNoCommunication,
  },
};

export interface ExceptionFault {
  readonly sentence: string;
  readonly code: string;
  readonly status: number;
}

/** What a device's exception means for the tags that were asked for: by the code of Modbus Application Protocol V1.1b3, section 7. */
export function exceptionFault(exception: number): ExceptionFault {
  const known = EXCEPTIONS[exception];
  const code = `MODBUS_${String(exception).padStart(2, '0')}`;
  if (!known)
    return {
      sentence: `The device answered with exception ${exception}, which the standard does not define.`,
      code,
      status: Status.Bad,
    };
  return {
    sentence: `The device answered "${known.words}" (exception ${exception}). ${known.advice}`,
    code,
    status: known.status,
  };
}

/** The device answers, and has no time for the question now: acknowledge, busy. */
export const isBusy = (exception: number): boolean => exception === 5 || exception === 6;

/** The device does not take the question: another one, of fewer addresses, may be taken. */
export const isRefusal = (exception: number): boolean => exception >= 1 && exception <= 3;

/** The gateway's two: nothing behind it was asked, so no tag of the device can be read. */
export const isOfWholeDevice = (exception: number): boolean => exception === 10 || exception === 11;

/** The error that a gateway's exception (0x0A, 0x0B) amounts to: the device behind it does not answer. */
export function deviceAway(exception: number): SourceAway {
  const { sentence, code, status } = exceptionFault(exception);
  return new SourceAway(sentence, code, status);
}

/** Network errors, in the words of what a person can do about them. */
export function awayFault(host: string, port: number, code: string): SourceAway {
  const place = `${host}:${port}`;
  const sentences: Record<string, string> = {
    ECONNREFUSED: `Nothing answers on ${place}. The host is up (it refused at once), so the port is wrong or the device is off.`,
    ENOTFOUND: `The name ${host} does not resolve. Check its spelling, or use the address.`,
    EAI_AGAIN: `The name ${host} could not be looked up just now: the name server does not answer.`,
    ETIMEDOUT: `${place} did not answer in time. A firewall may drop the connection, or the host is off.`,
    EHOSTUNREACH: `There is no way to ${host}. Check the address and the network between.`,
    ENETUNREACH: `There is no network towards ${host}. Check this machine's own connection.`,
    ECONNRESET: `${place} broke the connection off. The device restarted, or allows fewer connections than it gets.`,
    CLOSED: `${place} closed the connection. The device restarted, or the line was cut.`,
    NO_ANSWER: `${place} accepts connections but did not answer the request in time. Check the unit number and the time-out.`,
  };
  const status = code === 'ETIMEDOUT' || code === 'NO_ANSWER' ? Status.BadTimeout : Status.BadNoCommunication;
  return new SourceAway(sentences[code] ?? `${place} cannot be reached.`, code, status);
}
