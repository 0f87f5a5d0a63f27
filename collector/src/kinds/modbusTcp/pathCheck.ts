/** The path check of a Modbus source: name, port, answer, value. */
import type { PathCheck, Rung } from '@wide-ledger/contract';
import { walk, type Outcome } from '../../connection/pathWalk.ts';
import type { SourceOf } from '../kind.ts';
import { resolveName } from '../resolve.ts';
import { exceptionFault, isOfWholeDevice } from './faults.ts';
import type { Line } from './requests.ts';

/** Walks until the first rung that fails. */
export async function walkPath(
  { connection }: SourceOf<'modbus-tcp'>,
  line: Line,
  told: (rung: Rung) => void,
): Promise<PathCheck> {
  const { port, unit } = connection;
  const host = connection.host || '127.0.0.1';
  const check = await walk(
    [
      ['name', () => resolveName(host, port)],
      [
        'port',
        async () => {
          await line.connect();
          return { passed: true, sentence: `${host}:${port} accepts connections.` };
        },
      ],
      ['answer', () => answers(line, unit)],
      ['value', () => firstValue(line)],
    ],
    told,
  );
  line.close();
  return check;
}

async function answers(line: Line, unit: number): Promise<Outcome> {
  const answer = await line.request('holding', 0, 1);
  if ('data' in answer) return { passed: true, sentence: `Unit ${unit} speaks Modbus.` };
  const { exception } = answer;
  // An exception is an answer: only the gateway's two say that the unit itself was not reached.
  if (isOfWholeDevice(exception)) {
    const { sentence, code } = exceptionFault(exception);
    return { passed: false, sentence, code };
  }
  return { passed: true, sentence: `Unit ${unit} speaks Modbus (it answered register 0 with exception ${exception}).` };
}

async function firstValue(line: Line): Promise<Outcome> {
  const answer = await line.request('holding', 0, 1);
  if ('exception' in answer) {
    const { sentence, code } = exceptionFault(answer.exception);
    return { passed: false, sentence: `Holding register 0 gave no value. ${sentence}`, code };
  }
  const [high, low] = answer.data as Uint8Array;
  return { passed: true, sentence: `Holding register 0 holds ${(high! << 8) | low!}.` };
}
