/** What a backfill would fetch: from which sources, which stretches of which tags, and what stands in its way. */
import {
  KINDS,
  recoverySettings,
  type BackfillPart,
  type BackfillPlan,
  type RecoverySettings,
} from '@wide-ledger/contract';
import {
  clip,
  formatInstant,
  subtract,
  totalLength,
  union,
  workloadOf,
  type Span,
  type WantedTag,
} from '@wide-ledger/core';
import type { Coverage, MissingOfTag } from '../../archive/index.ts';
import type { Catalogue, SourceRow, TagRow } from '../../configuration/index.ts';
import type { Collectors } from '../collectors/collectors.ts';

export interface BackfillWish {
  readonly tags: readonly TagRow[];
  readonly window: Span;
  readonly overlap: 'fill' | 'replace';
}

/** What one source is to be asked for. */
export interface PartPlan {
  readonly source: SourceRow;
  readonly holes: readonly (Span & { readonly tags: readonly number[] })[];
  readonly told: BackfillPart;
}

export interface Planned {
  readonly parts: readonly PartPlan[];
  readonly plan: BackfillPlan;
  readonly missing: ReadonlyMap<number, MissingOfTag>;
}

const settingsOf = ({ kind, connection }: SourceRow): RecoverySettings =>
  recoverySettings(connection, kind in KINDS && KINDS[kind].offers.history);

/** Why a tag cannot be backfilled; null where it can. */
function reasonAgainst(tag: TagRow, source: SourceRow | undefined): string | null {
  if (tag.reading === null || !source) return 'It has no source: nobody keeps a past of it that could be fetched.';
  const { mode, keepsHistory } = settingsOf(source);
  if (!keepsHistory) return `Its source, ${source.name}, keeps no past of its own.`;
  if (mode === 'off') return `Recovering is off in the connection of ${source.name}.`;
  if (source.paused || tag.paused) return 'It is paused: nobody asks its source for anything.';
  return null;
}

/** Plans a backfill against what is missing now. */
export async function planBackfill(
  catalogue: Catalogue,
  coverage: Coverage,
  collectors: Collectors,
  { tags, window, overlap }: BackfillWish,
): Promise<Planned> {
  const missing = await coverage.missingOf(tags, window);
  const leftOut: { tag: string; reason: string }[] = [];
  const bySource = new Map<number, { source: SourceRow; tags: WantedTag[]; spans: Span[] }>();
  for (const tag of tags) {
    const source = tag.sourceId === null ? undefined : catalogue.sourceById(tag.sourceId);
    const reason = reasonAgainst(tag, source);
    if (reason !== null || !source || !tag.reading) {
      leftOut.push({ tag: tag.name, reason: reason ?? '' });
      continue;
    }
    const wanted = overlap === 'replace' ? [window] : (missing.get(tag.id)?.missing ?? []);
    const since = catalogue.keepsSince(tag);
    const kept = since === null ? wanted : clip(wanted, { from: since, to: Infinity });
    if (totalLength(kept) < totalLength(wanted))
      leftOut.push({
        tag: tag.name,
        reason: `Its store keeps values since ${formatInstant(since!)}: what lies before is not fetched.`,
      });
    if (kept.length === 0) continue;
    const part = bySource.get(source.id) ?? { source, tags: [], spans: [] };
    bySource.set(source.id, part);
    part.tags.push({ tag: tag.id, spans: kept, intervalMilliseconds: tag.reading.intervalMilliseconds });
    part.spans.push(...kept);
  }
  const parts = [...bySource.values()].map(({ source, tags: wanted, spans }): PartPlan => {
    const { holes, values, calls, seconds } = workloadOf(wanted, settingsOf(source));
    const all = union(spans);
    const reaches = collectors.stateOf(source.id).state?.recovery?.reachesBack ?? null;
    const older = reaches === null ? 0 : totalLength(clip(all, { from: -Infinity, to: reaches * 1000 }));
    return {
      source,
      holes,
      told: {
        source: source.name,
        tags: wanted.length,
        stretches: all.length,
        seconds: totalLength(all) / 1e6,
        values,
        calls,
        lasts: Math.ceil(seconds),
        reachesBack: reaches === null ? null : new Date(reaches).toISOString(),
        olderSeconds: older / 1e6,
      },
    };
  });
  const plan: BackfillPlan = {
    from: formatInstant(window.from),
    to: formatInstant(window.to),
    overlap,
    parts: parts.map(({ told }) => told),
    leftOut: leftOut.slice(0, MOST_TOLD),
    sentence: sentenceOf(parts, leftOut.length, tags.length),
  };
  return { parts, plan, missing };
}

/** So many tags are named that are left out. */
const MOST_TOLD = 200;

function sentenceOf(parts: readonly PartPlan[], leftOut: number, tags: number): string {
  if (parts.length === 0)
    return leftOut >= tags
      ? 'Nothing can be fetched: see why for each tag.'
      : 'Nothing is missing in this window: there is nothing to fetch.';
  const calls = parts.reduce((sum, { told }) => sum + told.calls, 0);
  const lasts = Math.max(...parts.map(({ told }) => told.lasts));
  return `At most ${calls} calls of ${parts.length === 1 ? parts[0]!.source.name : `${parts.length} sources`}, about ${lasts} s.`;
}

/** What is still missing of tags, with its reason. */
export function remainsOf(
  tags: readonly TagRow[],
  window: Span,
  missing: ReadonlyMap<number, MissingOfTag>,
): { tag: string; from: number; to: number; reason: string }[] {
  return tags.flatMap((tag) => {
    const known = missing.get(tag.id);
    if (!known) return [];
    const lost = union(known.gone);
    const why = (span: Span): string =>
      known.gone.find(({ from, to }) => from < span.to && to > span.from)?.sentence ?? '';
    const dead = known.missing.flatMap((span) => clip(lost, span));
    const left = subtract(known.missing, dead);
    return [
      ...dead.map((span) => ({ tag: tag.name, ...span, reason: why(span) })),
      ...left.map((span) => ({ tag: tag.name, ...span, reason: openReason(span, known) })),
    ].filter(({ from, to }) => to > window.from && from < window.to);
  });
}

function openReason(span: Span, { gaps }: MissingOfTag): string {
  const gap = gaps.find(({ from, to }) => from < span.to && to > span.from);
  return gap
    ? `Not fetched: ${gap.sentence}`
    : 'Nobody was meant to watch it then, and its source was not asked, or has not answered.';
}
