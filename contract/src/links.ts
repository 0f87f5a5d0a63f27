/** Links between sites: making one, what is carried, and how it stands. */
import { z } from 'zod';
import { isZone, rowId, timeParameter } from './common.ts';
import {
  NOTHING_CARRIED,
  NO_SUMMARIES_IN_FILES,
  linkLimits,
  linkNaming,
  linkSchedule,
  linkSelection,
  linkSummaries,
  siteAddress,
} from './configuration/bodies.ts';
import { otherEnd } from './configuration/farEnds.ts';

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

/** How a site is, as it tells where its history goes. */
export const siteAccount = z.strictObject({
  zone: z.string().max(100).refine(isZone, 'is no time zone that this machine knows'),
  tags: z.number().int().nonnegative(),
  valuesPerSecond: z.number().nonnegative(),
  sources: z.number().int().nonnegative(),
  away: z.number().int().nonnegative().meta({ description: 'of its sources, that do not answer' }),
  freeBytes: z.number().nullable(),
  concerns: z.array(z.string().max(500)).max(20).meta({ description: 'what a person has to look at there' }),
});
export type SiteAccount = z.infer<typeof siteAccount>;

export const joining = z.strictObject({ code: z.string().min(1).max(200), site: siteCard });
export const joined = z.object({ key: z.string(), name: z.string(), site: siteCard });
export type Joined = z.infer<typeof joined>;

const joinedBy = {
  url: siteAddress.meta({ description: 'address of the far end' }),
  code: z.string().min(1).max(200).meta({ description: 'that was shown there' }),
};

/** Where the same site answers, too: another server of it, or another way to it. */
const secondAddress = siteAddress
  .or(z.literal(''))
  .meta({ description: 'of the same site, for when the first does not answer; empty: none' });
const liveFirst = z
  .boolean()
  .meta({ description: 'what comes now goes at once, beside what waits, which is then carried in its order' });

/** At the near end: a link to where somebody invited this site, or to another kind of far end (`to`). */
export const newLink = z
  .strictObject({
    name: linkName,
    ...z.object(joinedBy).partial().shape,
    secondUrl: secondAddress.default(''),
    to: otherEnd.optional(),
    carries: z
      .array(linkSelection)
      .max(100)
      .default([{ search: '', place: '' }]),
    naming: linkNaming.default({ rules: [], single: {} }),
    detail: z.boolean().default(true).meta({ description: 'whether every value is carried' }),
    summaries: linkSummaries,
    limits: linkLimits,
    liveFirst: liveFirst.default(false),
    reconciles: linkSchedule.nullable().default(null),
  })
  .refine(({ url, code, to }) => (to === undefined) === (url !== undefined && code !== undefined), {
    message: 'Say where the link leads: the address of a site and the code that was shown there, or another far end.',
    path: ['url'],
  })
  .refine(({ detail, summaries }) => detail || summaries.length > 0, NOTHING_CARRIED)
  .refine(({ to, summaries }) => to?.kind !== 'files' || summaries.length === 0, NO_SUMMARIES_IN_FILES);

/** A change of a link; with a code of another invitation it gets another key. */
export const linkChange = z
  .strictObject({
    ...joinedBy,
    secondUrl: secondAddress,
    to: otherEnd,
    carries: z.array(linkSelection).max(100),
    naming: linkNaming,
    detail: z.boolean(),
    summaries: linkSummaries.unwrap(),
    limits: linkLimits.unwrap(),
    liveFirst,
    reconciles: linkSchedule.nullable(),
    paused: z.boolean(),
  })
  .partial()
  .refine((change) => Object.keys(change).length > 0, 'Say what is to change.');

/** What would be carried, and by what names, before anything is. */
export const linkNamesAsked = z.strictObject({
  carries: z.array(linkSelection).max(100),
  naming: linkNaming,
  detail: z.boolean().default(true),
  summaries: linkSummaries,
});
export const linkNames = z.object({
  tags: z.number().meta({ description: 'at the far end: every value, and each summary, of a tag is one' }),
  renamed: z.number(),
  problems: z.number(),
  rows: z.array(
    z.object({
      tag: z.string(),
      summary: z.string().nullable().meta({ description: 'such as TimeAverage over PT1H; null: every value' }),
      farName: z.string(),
      renamed: z.boolean(),
      problem: z.string().nullable(),
    }),
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

/** The steps of the way to a far end; each kind has those that it needs. */
export const LINK_RUNGS = [
  'name',
  'port',
  'encryption',
  'answer',
  'sign-in',
  'permission',
  'clock',
  'space',
  'version',
] as const;
export type LinkRungName = (typeof LINK_RUNGS)[number];
export const LINK_RUNG_OUTCOMES = ['passed', 'passed, but', 'failed', 'not reached'] as const;

/** A step of the way to a far end; “passed, but” is to be minded though it holds up nothing. */
export const linkRung = z.object({
  rung: z.enum(LINK_RUNGS),
  outcome: z.enum(LINK_RUNG_OUTCOMES),
  sentence: z.string(),
  code: z.string().nullable(),
  milliseconds: z.number().nullable(),
});
export type LinkRung = z.infer<typeof linkRung>;

/** The path of a link that is there, or to where one might lead. */
export const linkCheckAsked = z
  .strictObject({ link: rowId, url: siteAddress, to: otherEnd })
  .partial()
  .refine((asked) => Object.keys(asked).length === 1, 'Say which link, or the address, or the other far end.');
export const linkCheck = z.object({ rungs: z.array(linkRung), passed: z.boolean() });
export type LinkCheck = z.infer<typeof linkCheck>;

/** Rows as another far end would get them: the newest values of a few tags. */
export const linkTryAsked = z.strictObject({
  to: otherEnd,
  carries: z.array(linkSelection).max(100),
  naming: linkNaming.default({ rules: [], single: {} }),
});
export const linkTry = z.object({
  says: z.string(),
  columns: z.array(z.string()),
  rows: z.array(z.array(z.string())),
});
export type LinkTry = z.infer<typeof linkTry>;

/** Address ranges of two networks that are to be joined. */
const ranges = z.array(z.string().trim().min(1).max(80)).max(200);
export const networkRanges = z.strictObject({ here: ranges, there: ranges });
export const networkOverlaps = z.object({
  overlaps: z.array(z.object({ here: z.string(), there: z.string(), sentence: z.string() })),
});

/** What befell a link. */
export const linkEvent = z.object({ id: z.number(), at: z.string(), what: z.string(), sentence: z.string() });
export type LinkEvent = z.infer<typeof linkEvent>;
export const linkLog = z.object({ events: z.array(linkEvent) });
export type LinkLogAnswer = z.infer<typeof linkLog>;

/** When links had their far ends, for strips. */
export const linkStripsQuery = z.object({ from: timeParameter, to: timeParameter });
const between = { from: z.string(), to: z.string() };
const linkStrip = z.object({
  id: z.number(),
  there: z.array(z.object(between)),
  gaps: z.array(z.object({ ...between, sentence: z.string() })),
});
export const linkStrips = z.object({
  rows: z.array(linkStrip).meta({ description: 'of links that leave from here' }),
  arriving: z.array(linkStrip).meta({ description: 'of links that arrive here' }),
});
export type LinkStrips = z.infer<typeof linkStrips>;

/** A link that leaves from here. */
export const sendingLink = z.object({
  id: z.number(),
  name: z.string(),
  kind: z.string().meta({ description: 'of its far end: site, sql-table, files, mqtt, sparkplug' }),
  url: z.string(),
  secondUrl: z.string().meta({ description: 'of the same site; empty: none' }),
  inUse: z.string().nullable().meta({ description: 'which of two addresses; null where there is one' }),
  farName: z.string().nullable().meta({ description: 'the far end, as it calls itself' }),
  state: z.enum(['carrying', 'level', 'away', 'paused', 'starting']),
  trouble: z.string().nullable(),
  tags: z.number(),
  refused: z.array(z.object({ tag: z.string(), farName: z.string(), reason: z.string() })),
  waiting: z.number().meta({ description: 'values of the journal behind what is acknowledged, of whatever tag' }),
  lagSeconds: z.number().nullable().meta({ description: 'how old the oldest is that is not acknowledged' }),
  valuesPerSecond: z.number(),
  bytesPerSecond: z.number(),
  catchUpSeconds: z
    .number()
    .nullable()
    .meta({ description: 'until nothing waits, as it goes now; null where it falls behind or stands' }),
  detail: z.boolean(),
  summaries: linkSummaries,
  summarisedUntil: z.string().nullable().meta({ description: 'what was over by then has its summaries there' }),
  limits: linkLimits,
  liveFirst: z.boolean(),
  reconciles: linkSchedule.nullable(),
  clockAheadSeconds: z
    .number()
    .nullable()
    .meta({ description: 'by which the far end’s clock is ahead, where it differs by more than can be measured' }),
  comparable: z.boolean().meta({ description: 'whether its far end can be compared with this one' }),
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
  namesakes: z.array(z.string()).meta({ description: 'links of other sites that call themselves the same' }),
  tags: z.number(),
  account: siteAccount.nullable().meta({ description: 'how the site is, as it said last; older ones do not tell' }),
  ...figures,
});
export type ArrivingLink = z.infer<typeof arrivingLink>;

export const linksAnswer = z.object({
  sending: z.array(sendingLink),
  arriving: z.array(arrivingLink),
  keptDays: z.number().meta({ description: 'for how long at most the journal is kept for a link that is behind' }),
});
export type LinksAnswer = z.infer<typeof linksAnswer>;

/** Comparing a window at both ends, and making one of them the same where that is wanted. */
export const REPAIRS = ['nothing', 'there', 'here'] as const;
export const newReconciling = z.strictObject({
  from: timeParameter,
  to: timeParameter,
  repair: z.enum(REPAIRS).default('nothing').meta({
    description:
      'there: the far end becomes as it is here; here: this end becomes as it is there; old values stay in the modified history',
  }),
  removals: z.boolean().default(false).meta({
    description: 'whether what only the mended end has is removed there; without it is kept, and counted',
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
  kept: z.number().optional().meta({ description: 'values that only the mended end has, and that were not removed' }),
  waiting: z.number().optional().meta({ description: 'values that were still to be carried, and were left out' }),
  tally: z.string().meta({ description: 'of all that was compared here; the proof where both are equal' }),
  differing: z.array(differingHour).meta({ description: 'the first thousand' }),
});
export type ReconcilingReport = z.infer<typeof reconcilingReport>;
