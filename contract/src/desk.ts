/** The desk: the state of the site on one page. */
import { z } from 'zod';
import { collectorState } from './collector.ts';
import { setAsideRow } from './history.ts';
import { source } from './sources.ts';

export const JOB_KINDS = [
  'move',
  'import',
  'backfill',
  'retention',
  'rotation',
  'examination',
  'reconcile',
  'computation',
  'burst',
  'reported',
] as const;
export const jobKinds = z.enum(JOB_KINDS);
export type JobKind = z.infer<typeof jobKinds>;
export const JOB_STATES = ['waiting', 'running', 'stopping', 'stopped', 'pausing', 'paused', 'done', 'failed'] as const;
export type JobState = (typeof JOB_STATES)[number];

/** Long work: how far it is, in its unit, and what came of it. */
export const job = z.object({
  id: z.number(),
  kind: jobKinds.meta({ description: 'reported: the work is done elsewhere, and only reported here' }),
  title: z.string(),
  state: z.enum(JOB_STATES),
  done: z.number(),
  total: z.number(),
  unit: z.string(),
  startedAt: z.string(),
  updatedAt: z.string(),
  sentence: z.string(),
  report: z.unknown().meta({ description: 'what came of it, as its kind says; null where it says nothing' }),
});
export type Job = z.infer<typeof job>;
export const jobList = z.object({ jobs: z.array(job) });

export const jobReport = z.strictObject({
  key: z.string().min(1).max(80),
  title: z.string().max(200),
  state: z.enum(['running', 'stopped', 'done', 'failed']),
  done: z.number().nonnegative(),
  total: z.number().nonnegative(),
  unit: z.string().max(40),
  sentence: z.string().max(400).default(''),
});

/** An entry that could not be posted, kept whole until somebody decides. */
export const quarantinedEntry = z.object({
  id: z.number(),
  entry: z.number(),
  store: z.string(),
  writer: z.string(),
  receivedAt: z.string(),
  samples: z.number(),
  from: z.string().nullable(),
  to: z.string().nullable(),
  tags: z.array(z.string()),
  failure: z.string(),
  at: z.string(),
});
export type QuarantinedEntry = z.infer<typeof quarantinedEntry>;
export const quarantineList = z.object({ entries: z.array(quarantinedEntry) });
export const QUARANTINE_DECISIONS = ['post again', 'set aside'] as const;
export const quarantineDecision = z.strictObject({
  decision: z.enum(QUARANTINE_DECISIONS).meta({
    description: 'post again: as a new entry, what no tag can hold being set aside; set aside: all of its values',
  }),
});

/** Something that a person has to look at, most pressing first. */
export const concern = z.object({ weight: z.enum(['failure', 'warning']), sentence: z.string(), to: z.string() });

export const desk = z.object({
  site: z.string(),
  zone: z.string(),
  zones: z.array(z.string()).meta({ description: 'other ones, of the sites whose history arrives here' }),
  now: z.string(),
  tags: z.number(),
  values: z.number(),
  valuesPerSecond: z.number(),
  unposted: z.number(),
  blocks: z.number(),
  bytes: z.number(),
  freeBytes: z
    .number()
    .nullable()
    .meta({ description: 'room on the disk of the data; null where the system does not tell' }),
  lastEntryAt: z.string().nullable(),
  version: z.number(),
  collectorVersion: z
    .number()
    .meta({ description: 'the newest version in which collectors have anything other to do' }),
  /** How late the server's own thread comes to its work, 99th percentile since the last look, in milliseconds. */
  lateMilliseconds: z.number(),
  collectors: z.array(collectorState),
  sources: z.array(source),
  jobs: z.array(job),
  concerns: z.array(concern),
  links: z
    .array(z.object({ name: z.string(), sentence: z.string() }))
    .meta({ description: 'links that do not carry, or of which nothing is heard, with why' }),
  setAside: z.object({ total: z.number(), newest: z.array(setAsideRow) }),
  quarantine: z.array(quarantinedEntry),
  /** Programs that ended by themselves and were started again, since the launcher was started. */
  restarts: z.array(z.object({ program: z.string(), count: z.number(), last: z.string() })),
});
export type Desk = z.infer<typeof desk>;

export const health = z.object({
  status: z.enum(['ok', 'failing']),
  version: z.string(),
  checks: z.object({ database: z.string(), journal: z.string(), posting: z.string(), deriving: z.string() }),
});

/** What can be wrong with a line of the test bench. */
export const benchFault = z.discriminatedUnion('kind', [
  z.strictObject({ kind: z.literal('cut') }),
  z.strictObject({ kind: z.literal('stalled') }),
  z.strictObject({ kind: z.literal('slow'), milliseconds: z.number().int().min(1).max(60_000) }),
  z.strictObject({ kind: z.literal('narrow'), bytesPerSecond: z.number().int().min(1).max(1_000_000_000) }),
  z.strictObject({ kind: z.literal('deaf') }),
  z.strictObject({ kind: z.literal('doubled') }),
  z.strictObject({ kind: z.literal('lossy'), percent: z.number().min(0).max(90) }),
  z.strictObject({
    kind: z.literal('flapping'),
    wholeMilliseconds: z.number().int().min(100).max(600_000),
    cutMilliseconds: z.number().int().min(100).max(600_000),
  }),
]);
export type BenchFault = z.infer<typeof benchFault>;
export const newBenchFault = z.strictObject({ fault: benchFault.nullable() });

export const SIGNAL_SHAPES = ['sine', 'triangle', 'square', 'ramp', 'noise', 'counter'] as const;

/** A signal of the test bench's generator; numbers count from 1. Period in seconds. */
export const benchSignal = z.strictObject({
  number: z.number().int().min(1).max(100),
  shape: z.enum(SIGNAL_SHAPES),
  period: z.number().min(0.02).max(86_400),
  amplitude: z.number().min(0).max(1e9),
  offset: z.number().min(-1e9).max(1e9),
  renewMilliseconds: z.number().int().min(1).max(3_600_000),
});
export type BenchSignal = z.infer<typeof benchSignal>;

/** By how many seconds the clock of a device is to be ahead, or behind, from now on. */
export const benchClock = z.strictObject({ seconds: z.number().min(-34_560_000).max(34_560_000) });

/** A device of the test bench. */
export const benchDevice = z.object({
  name: z.string(),
  place: z.string(),
  protocol: z.string(),
  host: z.string(),
  port: z.number(),
  /** What is wrong with its line; null while nothing is. */
  fault: benchFault.nullable(),
  connections: z.number(),
  requests: z.number(),
  /** What it remembers by itself, in values; null where it remembers nothing. */
  memory: z.object({ holds: z.number(), capacity: z.number(), since: z.string().nullable() }).nullable(),
  /** Seconds by which its clock is ahead; null where it has none that anybody sees. */
  clockError: z.number().nullable().default(null),
  changedAt: z.string(),
  points: z.array(
    z.object({
      name: z.string(),
      address: z.string(),
      raw: z.string(),
      value: z.string(),
      signal: benchSignal.optional(),
    }),
  ),
});
export type BenchDevice = z.infer<typeof benchDevice>;
export const benchAnswer = z.object({ devices: z.array(benchDevice) });
