/** The desk: the state of the site on one page. */
import { z } from 'zod';
import { collectorState } from './collector.ts';
import { setAsideRow } from './history.ts';
import { source } from './sources.ts';

export const job = z.object({
  id: z.number(),
  title: z.string(),
  state: z.enum(['running', 'stopping', 'stopped', 'done', 'failed']),
  done: z.number(),
  total: z.number(),
  unit: z.string(),
  startedAt: z.string(),
  updatedAt: z.string(),
  sentence: z.string(),
});
export type Job = z.infer<typeof job>;

export const jobReport = z.object({
  key: z.string().min(1).max(80),
  title: z.string().max(200),
  state: z.enum(['running', 'stopped', 'done', 'failed']),
  done: z.number().nonnegative(),
  total: z.number().nonnegative(),
  unit: z.string().max(40),
  sentence: z.string().max(400).default(''),
});

/** Something that a person has to look at, most pressing first. */
export const concern = z.object({ weight: z.enum(['failure', 'warning']), sentence: z.string(), to: z.string() });

export const desk = z.object({
  site: z.string(),
  zone: z.string(),
  now: z.string(),
  tags: z.number(),
  values: z.number(),
  valuesPerSecond: z.number(),
  unposted: z.number(),
  blocks: z.number(),
  bytes: z.number(),
  lastEntryAt: z.string().nullable(),
  version: z.number(),
  /** How late the server's own thread comes to its work, 99th percentile since the last look, in milliseconds. */
  lateMilliseconds: z.number(),
  collectors: z.array(collectorState),
  sources: z.array(source),
  jobs: z.array(job),
  concerns: z.array(concern),
  setAside: z.object({ total: z.number(), newest: z.array(setAsideRow) }),
});
export type Desk = z.infer<typeof desk>;

export const health = z.object({
  status: z.enum(['ok', 'failing']),
  version: z.string(),
  checks: z.object({ database: z.string(), journal: z.string(), posting: z.string() }),
});

/** A device of the test bench. */
export const benchDevice = z.object({
  name: z.string(),
  place: z.string(),
  protocol: z.string(),
  host: z.string(),
  port: z.number(),
  connected: z.boolean(),
  clients: z.number(),
  requests: z.number(),
  changedAt: z.string(),
  points: z.array(z.object({ name: z.string(), address: z.string(), raw: z.string(), value: z.string() })),
});
export type BenchDevice = z.infer<typeof benchDevice>;
export const benchAnswer = z.object({ devices: z.array(benchDevice) });
