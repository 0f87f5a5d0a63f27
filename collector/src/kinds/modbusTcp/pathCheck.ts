/** The path check of a Modbus source: name, port, answer, value. */
import { RUNGS, type NewSource, type PathCheck, type Rung, type RungName } from '@wide-ledger/contract';
import { lookup } from 'node:dns/promises';
import { SourceAway } from '../kind.ts';
import { awayFault, exceptionFault, isOfWholeDevice } from './faults.ts';
import type { Line } from './requests.ts';

type Outcome = { readonly passed: boolean; readonly sentence: string; readonly code?: string };

/** Walks until the first rung that fails; those above it are "not reached". */
export async function walkPath({ connection }: NewSource, line: Line): Promise<PathCheck> {
  const { port, unit } = connection;
  const host = connection.host || '127.0.0.1';
  const steps: Record<RungName, () => Promise<Outcome>> = {
    name: async () => {
      const { address } = await lookup(host).catch((error: NodeJS.ErrnoException) => {
        throw awayFault(host, port, error.code ?? 'ENOTFOUND');
      });
      return { passed: true, sentence: address === host ? `${host} is an address.` : `${host} is ${address}.` };
    },
    port: async () => {
      await line.connect();
      return { passed: true, sentence: `${host}:${port} accepts connections.` };
    },
    answer: async () => {
      const answer = await line.request('holding', 0, 1);
      if ('data' in answer) return { passed: true, sentence: `Unit ${unit} speaks Modbus.` };
      const fault = exceptionFault(answer.exception);
      // An exception is an answer: only the gateway's two say that the unit itself was not reached.
      const reached = !isOfWholeDevice(answer.exception);
      return reached
        ? {
            passed: true,
            sentence: `Unit ${unit} speaks Modbus (it answered register 0 with exception ${answer.exception}).`,
          }
        : { passed: false, sentence: fault.sentence, code: fault.code };
    },
    value: async () => {
      const answer = await line.request('holding', 0, 1);
      if ('exception' in answer) {
        const fault = exceptionFault(answer.exception);
        return { passed: false, sentence: `Holding register 0 gave no value. ${fault.sentence}`, code: fault.code };
      }
      const [high, low] = answer.data as Uint8Array;
      return { passed: true, sentence: `Holding register 0 holds ${(high! << 8) | low!}.` };
    },
  };
  const rungs: Rung[] = [];
  let broken = false;
  for (const rung of RUNGS) {
    if (broken) {
      rungs.push({ rung, outcome: 'not reached', sentence: '', code: null, milliseconds: null });
      continue;
    }
    const started = performance.now();
    const outcome = await steps[rung]().catch((error: unknown): Outcome => {
      if (error instanceof SourceAway) return { passed: false, sentence: error.message, code: error.code };
      throw error;
    });
    broken = !outcome.passed;
    rungs.push({
      rung,
      outcome: outcome.passed ? 'passed' : 'failed',
      sentence: outcome.sentence,
      code: outcome.code ?? null,
      milliseconds: Math.round((performance.now() - started) * 10) / 10,
    });
  }
  line.close();
  return { rungs, passed: !broken };
}
