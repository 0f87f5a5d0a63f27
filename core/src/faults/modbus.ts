/** Exception codes of the Modbus Application Protocol V1.1b3, section 7. */
import { Status } from '../status/codes.ts';
import type { Catalogue, Explanation } from './fault.ts';

export const MODBUS_EXCEPTIONS: Catalogue<number> = {
  1: {
    what: 'illegal function',
    advice: 'The device does not know this kind of register; choose another area.',
    status: Status.BadNotSupported,
  },
  2: {
    what: 'illegal data address',
    advice: 'The device has no register there; check the address, and whether its manual counts from 0 or 1.',
    status: Status.BadNodeIdUnknown,
  },
  3: {
    what: 'illegal data value',
    advice: 'The device refuses the length of the request; check the register type.',
    status: Status.BadOutOfRange,
  },
  4: {
    what: 'device failure',
    advice: 'The device reports a fault of its own; look at it on site.',
    status: Status.BadDeviceFailure,
  },
  5: {
    what: 'acknowledge',
    advice: 'The device needs longer than it was given; raise the time-out.',
    status: Status.BadTimeout,
  },
  6: {
    what: 'device busy',
    advice: 'The device has no time just now; read it less often.',
    status: Status.BadTimeout,
  },
  8: {
    what: 'memory parity error',
    advice: 'The device found its own memory damaged; look at it on site.',
    status: Status.BadDeviceFailure,
  },
  10: {
    what: 'gateway path unavailable',
    advice: 'The gateway is not set up for this unit number.',
    status: Status.BadNoCommunication,
  },
  11: {
    what: 'gateway target does not respond',
    advice: 'The gateway works, the device behind it does not answer; check its power and the unit number.',
    status: Status.BadNoCommunication,
  },
};

/** What a device's exception means for the tags that were asked for. @param who answered, as a sentence begins with it */
export function modbusFault(exception: number, who = 'The device'): Required<Explanation> {
  const known = MODBUS_EXCEPTIONS[exception];
  if (!known) {
    const what = `${who} answered with exception ${exception}, which the standard does not define.`;
    return { what, advice: 'Its manual may say what it means.', status: Status.Bad };
  }
  const { what, advice, status = Status.Bad } = known;
  return { what: `${who} answered "${what}" (exception ${exception}).`, advice, status };
}
