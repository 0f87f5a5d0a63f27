/** Holes of tags that are watched, told filled by the values that stand in them: how far they follow each other as usual. */
import { isBad, type Span } from '@wide-ledger/core';
import type { SourcelessTag } from '../../coverage/sourceless.ts';
import type { Stores } from '../../stores/stores.ts';
import type { FilledLine, FilledRequest } from '../filled.ts';
import { AskerLeft, type Asker } from '../requests.ts';
import { EVERY_SAMPLE } from '../tagLedger.ts';
import { askLedger } from './pieces.ts';
import { presenceOf } from './presence.ts';

/** @returns lines of JSON, each a FilledLine. */
export async function* filledAnswer(stores: Stores, { tags }: FilledRequest, asker: Asker): AsyncGenerator<string> {
  for (const { tag, holes } of tags) {
    const filled: Span[] = [];
    for (const hole of holes) {
      if (asker.gone) throw new AskerLeft();
      // A hole that is shorter than a usual silence looks filled by the values around it.
      if (await hasValues(stores, tag, hole)) filled.push(...(await presenceOf(stores, tag, hole)).spans);
    }
    yield JSON.stringify({ tag: tag.id, filled: filled.filter(({ from, to }) => from < to) } satisfies FilledLine);
  }
}

const hasValues = (stores: Stores, tag: Omit<SourcelessTag, 'name'>, { from, to }: Span): Promise<boolean> =>
  askLedger(stores, tag, async (ledger) => {
    for await (const piece of ledger.pieces(from, to, { ...EVERY_SAMPLE, neighbours: false, usesUncertain: true })) {
      if (piece.kind !== 'samples') continue;
      const { times, status } = piece.frame;
      if (times.some((time, i) => time >= from && time < to && !isBad(status[i]!))) return true;
    }
    return false;
  });
