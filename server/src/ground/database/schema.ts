/** The tables of configuration and access as Drizzle sees them. The hot paths (journal, ledger) speak SQL themselves. */
import type {
  CounterNature,
  LinkBody,
  SourceConnection,
  PaceSettings,
  Reading,
  Scope,
  SourceKind,
  TagAggregateConfiguration,
  TagType,
} from '@wide-ledger/contract';
import { bigint, boolean, doublePrecision, integer, jsonb, pgTable, text, timestamp } from 'drizzle-orm/pg-core';

const moment = (name: string) => timestamp(name, { withTimezone: true, mode: 'date' });

export const account = pgTable('account', {
  id: integer().primaryKey().generatedAlwaysAsIdentity(),
  name: text().notNull(),
  passwordHash: text('password_hash').notNull(),
  scopes: text().array().$type<Scope[]>().notNull(),
});

export const configuration = pgTable('configuration', {
  onlyRow: boolean('only_row').primaryKey().default(true),
  version: integer().notNull(),
  collectorVersion: integer('collector_version').notNull(),
  epoch: bigint({ mode: 'number' }).notNull(),
});

export const place = pgTable('place', {
  id: integer().primaryKey().generatedAlwaysAsIdentity(),
  name: text().notNull(),
  parentId: integer('parent_id'),
  path: text().notNull(),
  retired: boolean().notNull(),
});

export const pace = pgTable('pace', {
  id: integer().primaryKey().generatedAlwaysAsIdentity(),
  name: text().notNull(),
  settings: jsonb().$type<PaceSettings>().notNull(),
});

export const source = pgTable('source', {
  id: integer().primaryKey().generatedAlwaysAsIdentity(),
  name: text().notNull(),
  kind: text().$type<SourceKind>().notNull(),
  connection: jsonb().$type<SourceConnection>().notNull(),
  paused: boolean().notNull(),
  collector: text(),
  standby: text(),
  standbyConnection: jsonb('standby_connection').$type<SourceConnection>(),
  changeOverSeconds: doublePrecision('change_over_seconds'),
  staysOver: boolean('stays_over').notNull(),
  retiredAt: moment('retired_at'),
});

export const tag = pgTable('tag', {
  id: integer().primaryKey().generatedAlwaysAsIdentity(),
  name: text().notNull(),
  type: text().$type<TagType>().notNull(),
  unit: text().notNull(),
  description: text().notNull(),
  place: text().notNull(),
  stepped: boolean().notNull(),
  low: doublePrecision(),
  high: doublePrecision(),
  states: jsonb().$type<Record<string, string>>(),
  sourceId: integer('source_id'),
  placeId: integer('place_id'),
  paceId: integer('pace_id'),
  /** As a collector is told; null without a source. */
  reading: jsonb().$type<Reading>(),
  /** The settings of its own. */
  settings: jsonb().$type<Partial<PaceSettings>>().notNull(),
  paused: boolean().notNull(),
  toldVersion: integer('told_version').notNull(),
  epoch: bigint({ mode: 'number' }).notNull(),
  retiredAt: moment('retired_at'),
  inForceSince: moment('in_force_since').notNull(),
  storeId: integer('store_id').notNull().default(1),
  aggregateConfiguration: jsonb('aggregate_configuration').$type<TagAggregateConfiguration>(),
  counter: jsonb().$type<CounterNature>(),
  writable: boolean().notNull(),
  labels: jsonb().$type<Record<string, string>>(),
  formula: text(),
  /** Where it is computed out of other tags: these, by what its formula calls them. */
  inputs: jsonb().$type<Record<string, number>>(),
});

/** Names that tags had. */
export const formerName = pgTable('tag_former_name', {
  name: text().primaryKey(),
  tagId: integer('tag_id').notNull(),
  until: moment('until').notNull(),
});

export const link = pgTable('link', {
  id: integer().primaryKey().generatedByDefaultAsIdentity(),
  name: text().notNull(),
  body: jsonb().$type<LinkBody>().notNull(),
  retiredAt: moment('retired_at'),
});

export const store = pgTable('store', {
  id: integer().primaryKey().generatedAlwaysAsIdentity(),
  name: text().notNull(),
  sealedUrl: text('sealed_url'),
  retentionMonths: integer('retention_months'),
  keepsSince: bigint('keeps_since', { mode: 'number' }),
});

export const job = pgTable('job', {
  id: integer().primaryKey().generatedAlwaysAsIdentity(),
  key: text().notNull(),
  title: text().notNull(),
  state: text().$type<'running' | 'stopping' | 'stopped' | 'done' | 'failed'>().notNull(),
  done: doublePrecision().notNull(),
  total: doublePrecision().notNull(),
  unit: text().notNull(),
  sentence: text().notNull(),
  startedAt: moment('started_at').notNull(),
  updatedAt: moment('updated_at').notNull(),
});
