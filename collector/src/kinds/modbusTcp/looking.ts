/** Looking at a device before any tag of it is known: a block of registers, and which unit ids answer. */
import type { RegisterBlock, RegistersAnswer, UnitsAnswer } from '@wide-ledger/contract';
import { SourceAway, type SourceOf } from '../kind.ts';
import { exceptionFault, isOfWholeDevice } from './faults.ts';
import { ModbusSession } from './session.ts';

type Source = SourceOf<'modbus-tcp'>;

/** A unit behind a gateway answers within this, or is taken for absent. Milliseconds. */
const UNIT_PATIENCE = 500;

/** A block of registers as the device holds them. @throws SourceAway */
export async function readBlock(source: Source, { area, start, length }: RegisterBlock): Promise<RegistersAnswer> {
  const session = new ModbusSession(source);
  try {
    await session.connect();
    const answer = await session.request(area, start, length);
    if ('exception' in answer) return { data: null, refusal: exceptionFault(answer.exception).sentence };
    const data =
      answer.data instanceof Uint8Array
        ? Buffer.from(answer.data).toString('hex').toUpperCase()
        : answer.data.map(Number).slice(0, length).join('');
    return { data, refusal: null };
  } finally {
    session.close();
  }
}

/** Asks unit ids one after the other, each by a connection of its own: some gateways answer late for the one before. */
export async function scanUnits(source: Source, from: number, to: number): Promise<UnitsAnswer> {
  const units: UnitsAnswer['units'] = [];
  for (let unit = from; unit <= to; unit++) units.push({ unit, ...(await askUnit(source, unit)) });
  return { units };
}

async function askUnit(source: Source, unit: number): Promise<{ answers: boolean; sentence: string }> {
  const timeoutMilliseconds = Math.min(source.connection.timeoutMilliseconds, UNIT_PATIENCE);
  const session = new ModbusSession({ ...source, connection: { ...source.connection, unit, timeoutMilliseconds } });
  try {
    await session.connect();
    const answer = await session.request('holding', 0, 1);
    if ('data' in answer) return { answers: true, sentence: 'It answers.' };
    const { sentence } = exceptionFault(answer.exception);
    // An exception is an answer, but for the gateway's own two.
    return { answers: !isOfWholeDevice(answer.exception), sentence };
  } catch (error) {
    // Whether anything listens at all is for the path check to say.
    if (error instanceof SourceAway && error.code === 'NO_ANSWER')
      return { answers: false, sentence: 'No answer in time.' };
    throw error;
  } finally {
    session.close();
  }
}
