/** Modbus TCP as a kind of source: it is asked at intervals, and keeps no past. */
import type { Kind } from '../kind.ts';
import { walkPath } from './pathCheck.ts';
import { ModbusSession } from './session.ts';

export const modbusTcp: Kind = {
  check: (source) => walkPath(source, new ModbusSession(source)),
  open: async (source) => {
    const session = new ModbusSession(source);
    await session.connect();
    return session;
  },
};
