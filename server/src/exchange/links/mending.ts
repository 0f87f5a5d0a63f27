/** Mending: one end of a link takes what it lacks, or has otherwise; what only it has is removed where a person said so. */
import { originCode, originName, repairOf, selectSamples, type Frame } from '@wide-ledger/core';
import type { LinkRow, TagRow } from '../../configuration/index.ts';
import type { ComparedEnd } from './far/farEnd.ts';
import type { NearEnd } from './nearHistory.ts';

/** Both ends, one of which is mended. */
type Mended = Pick<NearEnd, 'archive' | 'link'> & { readonly far: ComparedEnd };

/** Under whose name this end takes what the other one has. */
export const mendingWriter = ({ name }: Pick<LinkRow, 'name'>): string => `${name}: reconciled`;

export interface Part {
  readonly origin: number;
  readonly frame: Frame;
}

/** The parts of a repair, each with the origin of its samples as they were first recorded. */
export function partsOf(from: Frame, to: Frame, removals: boolean): Part[] {
  const { write, remove } = repairOf(from, to);
  const origins = [...new Set(write.origins)];
  const parts = origins.map((origin) => ({ origin, frame: selectSamples(write, (i) => write.origins![i] === origin) }));
  return !removals || remove.times.length === 0
    ? parts
    : [...parts, { origin: originCode('corrected'), frame: remove }];
}

const ofTag = (frame: Frame, tag: number): Frame => ({
  ...frame,
  tags: new Uint32Array(frame.times.length).fill(tag),
  origins: null,
});

export async function mendThere({ far, link }: Mended, number: number, parts: readonly Part[]): Promise<void> {
  const entries = parts.map(({ origin, frame }) => ({
    description: {
      writer: 'reconciled',
      origin: originName(origin),
      reason: `As it is at the other end of ${link.name}.`,
      via: [],
    },
    frame: ofTag(frame, number),
  }));
  if (entries.length > 0) await far.history(entries);
}

export async function mendHere({ archive, link }: Mended, { id }: TagRow, parts: readonly Part[]): Promise<void> {
  if (parts.length === 0) return;
  const common = { writer: mendingWriter(link), sequence: null, watches: [], outages: [], refused: [] };
  const reason = `As it is at the other end of ${link.name}.`;
  await archive.journal.appendAll(
    parts.map(({ origin, frame }) => ({
      ...common,
      origin: originName(origin),
      frame: ofTag(frame, id),
      reason,
    })),
  );
}
