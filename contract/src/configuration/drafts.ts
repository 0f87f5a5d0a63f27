/** Drafts, their review, and the versions that come of putting them in force. */
import { DEFINITION_KINDS } from '@wide-ledger/core';
import { z } from 'zod';
import { rowId } from '../common.ts';

const definitionKind = z.enum(DEFINITION_KINDS);
const id = rowId;
/** A definition's fields; each kind's own shape is checked when it is reviewed and put in force. */
const fields = z.record(z.string(), z.unknown());
const path = z.array(z.string());

/** One change of a draft. */
export const draftChange = z.union([
  z.strictObject({ kind: definitionKind, create: fields }),
  z.strictObject({ kind: definitionKind, id, copy: z.literal(true), set: fields }),
  z
    .strictObject({ kind: definitionKind, id, set: fields })
    .meta({ description: 'fields to set; null sets a field to none' }),
  z.strictObject({ kind: definitionKind, id, retire: z.literal(true) }),
  z.strictObject({ kind: definitionKind, id, discard: z.literal(true) }),
]);
export type DraftChange = z.infer<typeof draftChange>;

export const draftChanges = z.strictObject({ changes: z.array(draftChange).max(20_000) });

export const newDraft = z.strictObject({
  changes: z.array(draftChange).max(20_000).default([]),
  /** Takes an earlier version back: what has changed since is changed again to what it was. */
  version: rowId.optional(),
});

export const draftSummary = z.object({
  id,
  owner: z.string(),
  basedOn: z.number().int(),
  changes: z.number().int(),
  /** Edits that were taken back and may be made again. */
  undone: z.number().int(),
  createdAt: z.string(),
  updatedAt: z.string(),
});
export type DraftSummary = z.infer<typeof draftSummary>;
export const draftList = z.object({ drafts: z.array(draftSummary) });

/** A draft after an edit, with the numbers of what the edit created; null when nothing is left in it. */
export const draftEdited = z.object({ draft: draftSummary.nullable(), created: z.array(id) });
export type DraftEdited = z.infer<typeof draftEdited>;
export const draftLeft = z.object({ draft: draftSummary.nullable() });

export const fieldDifference = z.object({ path, title: z.string(), from: z.unknown(), to: z.unknown() });
export type FieldDifference = z.infer<typeof fieldDifference>;

export const finding = z.object({
  kind: definitionKind,
  id: z.number().int(),
  name: z.string(),
  path,
  severity: z.enum(['blocks', 'warns']),
  sentence: z.string(),
});
export type Finding = z.infer<typeof finding>;

export const fieldConflict = z.object({
  kind: definitionKind,
  id: z.number().int(),
  name: z.string(),
  path,
  title: z.string(),
  base: z.unknown(),
  mine: z.unknown(),
  theirs: z.unknown(),
  by: z.string().nullable(),
});
export type FieldConflictOutput = z.infer<typeof fieldConflict>;

export const itemChange = z.object({
  kind: definitionKind,
  id: z.number().int(),
  name: z.string(),
  what: z.enum(['new', 'changed', 'retired']),
  fields: z.array(fieldDifference),
});
export type ItemChange = z.infer<typeof itemChange>;

export const review = z.object({
  draft: draftSummary,
  inForce: z.number().int(),
  /** Sentences about what it will do, the largest effect first. */
  effects: z.array(z.string()),
  items: z.array(itemChange).meta({ description: 'the first ones; `total` says how many there are' }),
  total: z.number().int(),
  findings: z.array(finding),
  conflicts: z.array(fieldConflict),
});
export type Review = z.infer<typeof review>;

/** Settles conflicts: what stands in the draft for each of these fields. */
export const settlement = z.strictObject({
  fields: z.array(z.strictObject({ kind: definitionKind, id, path, take: z.enum(['mine', 'theirs']) })).min(1),
});

export const putInForce = z.strictObject({ reason: z.string().trim().max(1000).default('') });
export const forceResult = z.object({
  version: z.number().int(),
  results: z.array(
    z.object({
      kind: definitionKind,
      id: z.number().int(),
      name: z.string(),
      outcome: z.enum(['new', 'changed', 'retired']),
    }),
  ),
});
export type ForceResult = z.infer<typeof forceResult>;

export const version = z.object({
  number: z.number().int(),
  at: z.string(),
  by: z.string(),
  reason: z.string(),
  changes: z.number().int(),
});
export type Version = z.infer<typeof version>;
export const versionList = z.object({ versions: z.array(version), next: z.string().optional() });
export type VersionList = z.infer<typeof versionList>;

export const comparison = z.object({
  from: z.number().int(),
  to: z.number().int(),
  items: z.array(itemChange),
  total: z.number().int(),
});
export type Comparison = z.infer<typeof comparison>;

export const definitionOutput = z.object({
  kind: definitionKind,
  id,
  /** What is in force; null where it is not there, or not any more. */
  body: fields.nullable(),
  /** What stands in the asker's own draft; absent where that does not touch it. */
  draft: fields.nullable().optional(),
});
export const definitionList = z.object({
  definitions: z.array(definitionOutput),
  /** There are more: behind this number. */
  next: z.number().int().optional(),
});
export type DefinitionList = z.infer<typeof definitionList>;
export type DefinitionOutput = z.infer<typeof definitionOutput>;
