/** Links between sites: making one, what is carried, and how it stands. */
import { MAXIMUM_TIME, ORIGINS, TALLY_CELLS } from '@wide-ledger/core';
import { z } from 'zod';
import { rowId, tagName, timeParameter } from './common.ts';
import { linkNaming, linkSelection, siteAddress } from './configuration/bodies.ts';
import { TAG_TYPES } from './tags.ts';

const micros = z.number().int().min(-MAXIMUM_TIME).max(MAXIMUM_TIME);
const linkName = z.string().trim().min(1).max(80);

/** At the far end: somebody is invited to carry history here, by a code that is shown once. */
export const newInvitation = z.strictObject({
  name: linkName.meta({ description: 'by which this end knows the link' }),
  hours: z.number().int().min(1).max(168).default(24).meta({ description: 'for how long the code is good' }),
});
export const invitation = z.object({ id: z.number(), code: z.string(), ends: z.string() });
export type Invitation = z.infer<typeof invitation>;

/** Who joins says which site it is. */
export const siteCard = z.strictObject({
  identity: z.string().min(1).max(100),
  name: z.string().min(1).max(200),
  version: z.string().max(40),
});
export type SiteCard = z.infer<typeof siteCard>;
export const joining = z.strictObject({ code: z.string().min(1).max(200), site: siteCard });
export const joined = z.object({ key: z.string(), name: z.string(), site: siteCard });
export type Joined = z.infer<typeof joined>;

/** At the near end: a link to where somebody invited this site. */
export const newLink = z.strictObject({
  name: linkName,
  url: siteAddress.meta({ description: 'address of the far end' }),
  code: z.string().min(1).max(200).meta({ description: 'that was shown there' }),
  carries: z
    .array(linkSelection)
    .max(100)
    .default([{ search: '', place: '' }]),
  naming: linkNaming.default({ rules: [], single: {} }),
});

/** A change of a link; with a code of another invitation it gets another key. */
export const linkChange = z
  .strictObject({
    url: siteAddress,
    code: z.string().min(1).max(200),
    carries: z.array(linkSelection).max(100),
    naming: linkNaming,
    paused: z.boolean(),
  })
  .partial()
  .refine((change) => Object.keys(change).length > 0, 'Say what is to change.');

/** What would be carried, and by what names, before anything is. */
export const linkNamesAsked = z.strictObject({ carries: z.array(linkSelection).max(100), naming: linkNaming });
export const linkNames = z.object({
  tags: z.number(),
  renamed: z.number(),
  problems: z.number(),
  rows: z.array(
    z.object({ tag: z.string(), farName: z.string(), renamed: z.boolean(), problem: z.string().nullable() }),
  ),
});
export type LinkNames = z.infer<typeof linkNames>;

const figures = {
  samples: z.number().meta({ description: 'values since it was made' }),
  bytes: z.number().meta({ description: 'bytes on the line since it was made' }),
  setAside: z.number().meta({ description: 'values that the far end could not keep' }),
  contactAt: z.string().nullable(),
  samplesAt: z.string().nullable().meta({ description: 'when values came last' }),
};

/** A link that leaves from here. */
export const sendingLink = z.object({
  id: z.number(),
  name: z.string(),
  url: z.string(),
  farName: z.string().nullable().meta({ description: 'the far end, as it calls itself' }),
  state: z.enum(['carrying', 'level', 'away', 'paused', 'starting']),
  trouble: z.string().nullable(),
  tags: z.number(),
  refused: z.array(z.object({ tag: z.string(), farName: z.string(), reason: z.string() })),
  waiting: z.number().meta({ description: 'values of the journal behind what is acknowledged, of whatever tag' }),
  lagSeconds: z.number().nullable().meta({ description: 'how old the oldest is that is not acknowledged' }),
  ...figures,
});
export type SendingLink = z.infer<typeof sendingLink>;

/** A link that arrives here; before anybody joined, an invitation. */
export const arrivingLink = z.object({
  id: z.number(),
  name: z.string(),
  site: siteCard.nullable(),
  invited: z.object({ by: z.string(), at: z.string(), ends: z.string().nullable() }),
  state: z.enum(['invited', 'never sent anything', 'arriving', 'silent', 'revoked']),
  tags: z.number(),
  ...figures,
});
export type ArrivingLink = z.infer<typeof arrivingLink>;

export const linksAnswer = z.object({
  sending: z.array(sendingLink),
  arriving: z.array(arrivingLink),
  keptDays: z.number().meta({ description: 'for how long at most the journal is kept for a link that is behind' }),
});
export type LinksAnswer = z.infer<typeof linksAnswer>;

// What passes between the two ends.

/** Where an arrival stands: what is committed of the near end's journal, in which of its lives. */
export const carryPosition = z.object({
  site: siteCard,
  epoch: z.number().int(),
  position: z.number().int(),
  print: z.string().meta({ description: 'of the entry at that position, by which a restored journal is known' }),
  lastNumber: z.number().int().meta({ description: 'of the tags that were told; 0 for none' }),
});
export type CarryPosition = z.infer<typeof carryPosition>;

/** A tag as it is carried: by the link's own number. */
export const carriedTag = z.strictObject({
  number: rowId,
  name: tagName,
  type: z.enum(TAG_TYPES),
  unit: z.string().max(40),
  description: z.string().max(400),
  place: z.string().max(200),
  stepped: z.boolean(),
  low: z.number().nullable(),
  high: z.number().nullable(),
  states: z.record(z.string(), z.string()).nullable(),
});
export type CarriedTag = z.infer<typeof carriedTag>;
export const carriedTags = z.strictObject({ tags: z.array(carriedTag).min(1).max(10_000) });
export const carriedTagsAnswer = z.object({
  results: z.array(z.object({ number: z.number(), refused: z.string().nullable() })),
});
export type CarriedTagsAnswer = z.infer<typeof carriedTagsAnswer>;

/** What stands before the entries of one request: from where in the near end's journal to where they reach. */
export const carriedStretch = z.strictObject({
  epoch: z.number().int().nonnegative(),
  after: z.number().int().nonnegative(),
  position: z.number().int().nonnegative(),
  print: z.string().max(100),
});
export type CarriedStretch = z.infer<typeof carriedStretch>;

/** How an entry is described that is carried; its frame has the link's numbers for tags. */
export const carriedEntry = z.strictObject({
  writer: z.string().min(1).max(200),
  origin: z.enum(ORIGINS),
  reason: z.string().max(1000).nullable(),
  via: z.array(z.string().max(100)).max(50),
});
export type CarriedEntry = z.infer<typeof carriedEntry>;

export const carriedAnswer = z.object({ accepted: z.number(), setAside: z.number() });
export type CarriedAnswer = z.infer<typeof carriedAnswer>;

/** Comparing a window at both ends, and making one of them the same where that is wanted. */
export const REPAIRS = ['nothing', 'there', 'here'] as const;
export const newReconciling = z.strictObject({
  from: timeParameter,
  to: timeParameter,
  repair: z.enum(REPAIRS).default('nothing').meta({
    description:
      'there: the far end becomes as it is here; here: this end becomes as it is there; old values stay in the modified history',
  }),
});
export const reconcilingAnswer = z.object({ job: z.number() });

/** An hour of a tag that differs, in how many samples and in what. */
export const differingHour = z.object({
  tag: z.string(),
  from: z.string(),
  to: z.string(),
  missingHere: z.number(),
  missingThere: z.number(),
  differentValue: z.number(),
  differentStatus: z.number(),
});
export const reconcilingReport = z.object({
  from: z.string(),
  to: z.string(),
  equal: z.boolean(),
  compared: z.number().meta({ description: 'samples, as they stand here' }),
  tags: z.number(),
  hours: z.number().meta({ description: 'of tags, that differ' }),
  repaired: z.number().meta({ description: 'of them, that were made the same' }),
  tally: z.string().meta({ description: 'of all that was compared here; the proof where both are equal' }),
  differing: z.array(differingHour).meta({ description: 'the first thousand' }),
});
export type ReconcilingReport = z.infer<typeof reconcilingReport>;

/** What the far end is asked about its tags, by the link's numbers. */
export const carriedTalliesAsked = z.strictObject({
  numbers: z.array(rowId).min(1).max(2000),
  from: micros,
  to: micros,
  by: z.enum(TALLY_CELLS),
});
export const carriedTallies = z.object({
  rows: z.array(
    z.object({ number: z.number(), cells: z.array(z.tuple([z.number(), z.number(), z.number(), z.string()])) }),
  ),
});
export type CarriedTallies = z.infer<typeof carriedTallies>;
export const carriedSamplesAsked = z.object({
  number: z.coerce.number().pipe(rowId),
  from: z.coerce.number().pipe(micros),
  to: z.coerce.number().pipe(micros),
});
