/** Modbus TCP as a kind of source: it is asked at intervals, and keeps no past. */
import type { Kind, PolledSession } from '../kind.ts';
import { readBlock, scanUnits } from './looking.ts';
import { walkPath } from './pathCheck.ts';
import { ModbusSession } from './session.ts';

export const modbusTcp: Kind<'modbus-tcp', PolledSession<'modbus-tcp'>> = {
  check: (source, _around, told) => walkPath(source, new ModbusSession(source), told),
  open: async (source) => {
    const session = new ModbusSession(source);
    await session.connect();
    return session;
  },
  registers: readBlock,
  units: scanUnits,
};
