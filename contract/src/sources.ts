/** Sources, and how a path check walks to them. */
import { z } from 'zod';
import { collectorName } from './common.ts';
import {
  RECOVERY_MODES,
  RUNGS,
  files,
  httpJson,
  itself,
  ledger,
  modbusTcp,
  mqtt,
  opcUa,
  sparkplug,
  sql,
} from './kinds/index.ts';

export const sourceName = z.string().trim().min(1).max(80);

/** What every source has, whatever its kind. */
const named = z.strictObject({
  name: sourceName,
  collector: collectorName.optional().meta({ description: 'name of the collector that reads it; without: any' }),
  standby: collectorName.optional().meta({ description: 'name of another that reads it, too, and stands ready' }),
});
/** A source of a kind that a standby may read, too. */
const sourceOf = <Kind extends string, Connection extends z.ZodObject>(kind: Kind, connection: Connection) =>
  named.extend({
    kind: z.literal(kind),
    connection,
    standbyConnection: connection.optional().meta({
      description: 'a second way, for when the first does not answer; where there is a standby: its own',
    }),
  });
const modbusSource = sourceOf(modbusTcp.kind, modbusTcp.connection);
const opcUaSource = sourceOf(opcUa.kind, opcUa.connection);
const mqttSource = sourceOf(mqtt.kind, mqtt.connection);
const httpJsonSource = sourceOf(httpJson.kind, httpJson.connection);
const sparkplugSource = sourceOf(sparkplug.kind, sparkplug.connection);
const sqlSource = sourceOf(sql.kind, sql.connection);
const filesSource = sourceOf(files.kind, files.connection);
const ledgerSource = sourceOf(ledger.kind, ledger.connection);
const itselfSource = named.extend({ kind: z.literal(itself.kind), connection: itself.connection });

/** A source of any kind, its connection as its kind wants it. */
export const newSource = z.discriminatedUnion('kind', [
  modbusSource,
  opcUaSource,
  mqttSource,
  sparkplugSource,
  httpJsonSource,
  sqlSource,
  filesSource,
  ledgerSource,
  itselfSource,
]);

export type NewSource = z.infer<typeof newSource>;

/** What a collector is asked about, out of a definition's body: without what only the configuration knows. */
export const askedSource = ({ name, kind, connection, collector }: Readonly<Record<string, unknown>>) =>
  newSource.safeParse({ name, kind, connection, collector });

/** One step of a path check. `sentence` says what was found and, where it failed, what to do. */
export const rung = z.object({
  rung: z.enum(RUNGS),
  outcome: z.enum(['passed', 'failed', 'not reached']),
  sentence: z.string(),
  code: z.string().nullable(),
  milliseconds: z.number().nullable(),
});
export type Rung = z.infer<typeof rung>;

export const pathCheck = z.object({ rungs: z.array(rung), passed: z.boolean() });
export type PathCheck = z.infer<typeof pathCheck>;

/** Time between due and done of the reads, in milliseconds. */
export const readTiming = z.object({
  reads: z.number(),
  jitterMedian: z.number(),
  jitter99: z.number(),
  durationMedian: z.number(),
  /** Older collectors do not tell. */
  duration99: z.number().default(0),
  missed: z.number(),
});

/** What somebody ordered to be fetched: how far it is. */
export const recoveryOrder = z.object({
  order: z.number().int(),
  values: z.number().int(),
  calls: z.number().int(),
  /** Tags that are still to be asked for, each stretch by itself; 0 when it is done. */
  left: z.number().int(),
});
export type RecoveryOrder = z.infer<typeof recoveryOrder>;

/** How it goes with fetching what was missed out of a source's own past; times in milliseconds since 1970. */
export const recoveryState = z.object({
  mode: z.enum(RECOVERY_MODES),
  /** Stretches that are still to be fetched, whole or in part, and when the earliest began. */
  holes: z.number().int(),
  since: z.number().nullable(),
  /** Fetched since the collector was started. */
  values: z.number().int(),
  calls: z.number().int(),
  /** When the oldest value is from that the source still has; null where that is not known. */
  reachesBack: z.number().nullable(),
  /** Orders that are worked on, and the last ones that are done. */
  orders: z.array(recoveryOrder).default([]),
});
export type RecoveryState = z.infer<typeof recoveryState>;

export const sourceState = z.object({
  source: z.number().int(),
  state: z.enum(['watching', 'connecting', 'away']),
  since: z.number(),
  sentence: z.string(),
  code: z.string().nullable(),
  valuesPerSecond: z.number(),
  keptPerSecond: z.number(),
  timing: z.record(z.string(), readTiming).meta({ description: 'by interval, such as "1000 ms"' }),
  /** Device clock minus collector clock in milliseconds; null where the protocol carries no time. */
  clockSkewMilliseconds: z.number().nullable(),
  /** What passes on the connection; null while there is none. */
  traffic: z.object({ requestsPerSecond: z.number(), bytesPerSecond: z.number() }).nullable().default(null),
  /** What went wrong since the collector was started, by kinds, the last first; times in milliseconds since 1970. */
  troubles: z
    .array(z.object({ code: z.string(), sentence: z.string(), count: z.number(), last: z.number() }))
    .default([]),
  /** What the kind tells of the connection that stands, such as the endpoint and the server's certificate. */
  facts: z.array(z.tuple([z.string(), z.string()])).default([]),
  way: z
    .number()
    .int()
    .nullable()
    .default(null)
    .meta({ description: 'by which it is read: 1 or 2, or beyond; null where there is one' }),
  /** Tags of it that cannot be read, though it can. */
  faultyTags: z.number().int().default(0),
  /** Of a source that keeps a past of its own. */
  recovery: recoveryState.nullable().default(null),
});
export type SourceState = z.infer<typeof sourceState>;

/** A collector that reads a source which others read, too. */
export const sourceReader = z.object({
  collector: z.string(),
  holds: z.boolean().meta({ description: 'whether it is its turn to record' }),
  present: z.boolean(),
  state: sourceState.shape.state,
  sentence: z.string(),
  faultyTags: z.number().int(),
});
export type SourceReader = z.infer<typeof sourceReader>;

/** What is shown of a source beside what it is. */
const shown = {
  id: z.number().int(),
  /** Not read for the time being, because somebody said so. */
  paused: z.boolean(),
  tags: z.number().int(),
  state: sourceState.nullable(),
  reportedAt: z.string().nullable(),
  /** The version of the configuration that its collector runs; null where none has reported it. */
  runs: z.number().int().nullable(),
  /** Those that read it, where they are several. */
  readers: z.array(sourceReader).default([]),
};

export const source = z.discriminatedUnion('kind', [
  modbusSource.extend(shown),
  opcUaSource.extend(shown),
  mqttSource.extend(shown),
  sparkplugSource.extend(shown),
  httpJsonSource.extend(shown),
  sqlSource.extend(shown),
  filesSource.extend(shown),
  ledgerSource.extend(shown),
  itselfSource.extend(shown),
]);
export type Source = z.infer<typeof source>;
