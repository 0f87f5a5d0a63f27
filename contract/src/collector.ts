/** What passes between a collector and its server. */
import { GAP_CAUSES, MAXIMUM_TIME, ORIGINS } from '@wide-ledger/core';
import { z } from 'zod';
import { collectorName, rowId } from './common.ts';
import { newSource, sourceState } from './sources.ts';
import type { SourceAddress } from './kinds/index.ts';
import { reading, type Reading } from './tags.ts';

export const configuredTag = z.object({
  id: z.number().int(),
  name: z.string(),
  type: z.string(),
  low: z.number().nullable(),
  high: z.number().nullable(),
  reading,
});
/** A tag as its collector reads it; its address as the kind of its source wants it. */
export type ConfiguredTag<Address extends SourceAddress = SourceAddress> = Omit<
  z.infer<typeof configuredTag>,
  'reading'
> & { readonly reading: Omit<Reading, 'address'> & { readonly address: Address } };

/** When the second way is taken where the first does not answer, and whether for good. */
export const changeOver = {
  changeOverSeconds: z.number().nonnegative().optional(),
  staysOver: z.boolean().optional(),
};
export const configuredSource = newSource.and(
  z.object({ id: z.number().int(), tags: z.array(configuredTag), ...changeOver }),
);
export type ConfiguredSource = z.infer<typeof configuredSource>;

/** A source of a kind that the reader of this does not know: a newer server's. */
export const strangeSource = z.looseObject({ id: z.number().int(), name: z.string(), kind: z.string() });

/** Everything that a collector does, under one version number. */
export const collectorConfiguration = z.object({
  version: z.number().int(),
  stamp: z
    .string()
    .default('')
    .meta({ description: 'tells this version from another of the same number, as a restored server makes one' }),
  sources: z.array(z.union([configuredSource, strangeSource])),
  /** The secrets that its sources refer to, by their numbers. */
  secrets: z.record(z.string(), z.string()).default({}),
});
export type CollectorConfiguration = z.infer<typeof collectorConfiguration>;

/** What a collector that runs one version has to change to run a later one. Of sources their heads, all of them. */
export const configurationChanges = z.object({
  since: z.number().int(),
  version: z.number().int(),
  stamp: z.string(),
  sources: z.array(strangeSource),
  tags: z.array(z.looseObject({ id: z.number().int(), source: z.number().int() })),
  secrets: z.record(z.string(), z.string()).default({}),
  gone: z.array(z.number().int()).meta({ description: 'tags that are read no longer' }),
});
export type ConfigurationChanges = z.infer<typeof configurationChanges>;

/** What is asked for configuration: all of it, or what changed since the version one has. */
export const configurationQuery = z.object({
  since: z.coerce.number().int().optional(),
  stamp: z.string().max(80).optional(),
  collector: collectorName.optional().meta({ description: 'the name of the one that asks; older ones do not say' }),
});

/** Microseconds since 1970, as far as anything is kept. */
const micros = z.number().int().min(-MAXIMUM_TIME).max(MAXIMUM_TIME);

/** A span in which a collector watched a source; it continues the watch that ended where it begins. Microseconds. */
export const watchSpan = z.strictObject({
  source: rowId,
  version: z.number().int().nonnegative().max(2_147_483_647),
  from: micros,
  to: micros,
  origin: z.enum(ORIGINS).optional(),
});
export type WatchSpan = z.infer<typeof watchSpan>;

/** A span in which a collector could not watch a source, or one tag of it; open while `to` is null. Microseconds. */
export const outageSpan = z.strictObject({
  source: rowId,
  tag: rowId.nullable(),
  from: micros,
  to: micros.nullable(),
  cause: z.enum(GAP_CAUSES),
  sentence: z.string().max(1000),
  code: z.string().max(100).nullable(),
  recoverable: z.boolean(),
  /** Found afterwards, inside a span that is reported as watched: it is taken out of it. */
  within: z.boolean().default(false),
});
export type OutageSpan = z.infer<typeof outageSpan>;

/** How it stands with a stretch that was missed, of a source or of one tag of it. Microseconds. */
export const RECOVERY_OUTCOMES = ['wanted', 'recovered', 'gone', 'settled'] as const;

/**
 * `wanted`: the collector is after it. `recovered`: fetched from the source's own history, or nothing changed there.
 * `gone`: the source does not have it any more. `settled`: no longer wanted, what came of it has been said.
 */
export const recoverySpan = z.strictObject({
  source: rowId,
  tag: rowId.nullable(),
  from: micros,
  to: micros,
  outcome: z.enum(RECOVERY_OUTCOMES),
  sentence: z.string().max(1000).default(''),
});
export type RecoverySpan = z.infer<typeof recoverySpan>;

/** The description of an entry: whose it is, its place in the writer's order, how it got here, what was watched. */
export const entryDescription = z.strictObject({
  writer: z.string().min(1).max(200),
  sequence: z.number().int().positive().max(Number.MAX_SAFE_INTEGER),
  origin: z.enum(ORIGINS),
  watches: z.array(watchSpan).max(10_000).default([]),
  outages: z.array(outageSpan).max(10_000).default([]),
  /** Left out where there are none: servers that do not know of them take the entry. */
  recoveries: z.array(recoverySpan).max(10_000).optional(),
});
export type EntryDescription = z.infer<typeof entryDescription>;

export const entryAnswer = z.object({
  entry: z.number().nullable(),
  accepted: z.number(),
  setAside: z.number(),
  repeated: z.boolean().meta({ description: 'this writer delivered this sequence number before; nothing was added' }),
  numbers: z.array(z.number().nullable()).optional().meta({
    description: 'the number of each entry of a bundle, in its order; null for one that was delivered before',
  }),
});
/** How far a writer has delivered. */
export const entryPosition = z.object({ sequence: z.number() });
export type EntryAnswer = z.infer<typeof entryAnswer>;

/** What a collector says about itself every second. */
export const collectorReport = z.object({
  name: z.string().min(1).max(80),
  version: z.number().int().nullable(),
  startedAt: z.number(),
  spooledEntries: z.number().int(),
  spooledSamples: z.number().int(),
  /** Parts of entries that the server refused for good, kept on the collector's disk. */
  putAwayEntries: z.number().int().default(0),
  /** Room on the disk of the spool, and what a sample takes of it, as far as is known. */
  spoolFreeBytes: z.number().nullable().default(null),
  spoolBytesPerSample: z.number().nullable().default(null),
  /** What is wrong with the collector itself, as a sentence. */
  trouble: z.string().max(1000).nullable().default(null),
  valuesPerSecond: z.number(),
  sources: z.array(sourceState),
});
export type CollectorReport = z.infer<typeof collectorReport>;

/** Whose turn it is to record a source that several collectors read. */
export const leaseOrder = z.object({
  source: z.number().int(),
  holds: z.boolean().meta({ description: 'whether it is the turn of the collector that is told' }),
  epoch: z.number().int().meta({ description: 'goes up when the lease changes hands' }),
  from: z.number().nullable().meta({ description: 'up to when others watched before, in microseconds since 1970' }),
  ready: z.boolean().meta({ description: 'whether another collector watches the source at this moment' }),
});
export type LeaseOrder = z.infer<typeof leaseOrder>;

/** How a link of the site stands, for whoever keeps that as tags: figures by their names. */
export const linkAccount = z.object({
  kind: z.enum(['link', 'arrival']),
  id: z.number().int(),
  name: z.string(),
  figures: z.record(z.string(), z.number().nullable()),
});
export type LinkAccount = z.infer<typeof linkAccount>;

/** What the server tells a collector in return: the newest configuration's number, and how it stands itself. */
export const collectorOrders = z.object({
  version: z.number().int(),
  /** The server's clock, in milliseconds since 1970. Older servers do not tell. */
  now: z.number().optional(),
  /** Free space where the archive is; null where that is not known. */
  archiveFreeBytes: z.number().nullable().optional(),
  /** Of sources that others read, too. Older servers do not tell. */
  leases: z.array(leaseOrder).default([]),
  /** Older servers do not tell. */
  links: z.array(linkAccount).default([]),
});
export type CollectorOrders = z.infer<typeof collectorOrders>;

export const collectorState = collectorReport
  .omit({ sources: true })
  .extend({ reportedAt: z.string(), present: z.boolean() });
export type CollectorState = z.infer<typeof collectorState>;
