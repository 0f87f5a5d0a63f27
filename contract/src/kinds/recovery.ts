/** How what was missed is fetched from a source that keeps a past of its own. */
import { z } from 'zod';

export const RECOVERY_MODES = ['by itself', 'on demand', 'off'] as const;

/** Settings among those of a connection. They say nothing of the connection itself: a change of them opens no other one. */
export const recoveryFields = {
  recover: z
    .enum(RECOVERY_MODES)
    .optional()
    .meta({ title: 'Recover', description: 'what was missed; by itself: at start and at reconnection' }),
  recoverFirst: z.enum(['oldest', 'newest']).optional().meta({ title: 'Recover first' }),
  valuesPerCall: z
    .number()
    .int()
    .min(2)
    .max(10_000)
    .optional()
    .meta({ title: 'Values a call', description: '1000; what it can bear' }),
  callsPerSecond: z
    .number()
    .min(0.1)
    .max(1000)
    .optional()
    .meta({ title: 'Calls a second', description: '20, at most' }),
  bufferValues: z
    .number()
    .int()
    .min(1)
    .max(1_000_000_000)
    .optional()
    .meta({ title: 'Its buffer', description: 'values, where known' }),
};

/** The settings in force, with what holds where nothing is said. */
export interface RecoverySettings {
  /** Whether the kind of source keeps a past of its own at all. */
  readonly keepsHistory: boolean;
  readonly mode: (typeof RECOVERY_MODES)[number];
  readonly newestFirst: boolean;
  readonly valuesPerCall: number;
  readonly callsPerSecond: number;
  /** Values that the source keeps; null where nobody said. */
  readonly bufferValues: number | null;
}

const fields = z.object(recoveryFields);

/** How a connection wants to be recovered; of a kind without a past of its own: off. */
export function recoverySettings(connection: object, keepsHistory: boolean): RecoverySettings {
  const said = fields.parse(connection);
  return {
    keepsHistory,
    mode: keepsHistory ? (said.recover ?? 'by itself') : 'off',
    newestFirst: said.recoverFirst === 'newest',
    valuesPerCall: said.valuesPerCall ?? 1000,
    callsPerSecond: said.callsPerSecond ?? 20,
    bufferValues: said.bufferValues ?? null,
  };
}

/** What makes a connection: another one is another connection. */
export const connectionAlone = (connection: object): object =>
  Object.fromEntries(Object.entries(connection).filter(([name]) => !(name in recoveryFields)));
