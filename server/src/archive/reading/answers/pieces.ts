/** Pieces of a tag's history with the snapshot around them, as every answer reads them. */
import type { Stores } from '../../stores/stores.ts';
import type { ReadTag } from '../readTag.ts';
import { AskerLeft, type Asker } from '../requests.ts';
import { openTagLedger, type Piece, type PieceReader, type TagLedger } from '../tagLedger.ts';

/** A ledger's pieces as series and summaries, the way that passes in core take them. */
export async function* piecesOf(
  stores: Stores,
  tag: ReadTag,
  from: number,
  to: number,
  reader: PieceReader,
  asker: Asker,
): AsyncGenerator<Piece> {
  const ledger = await openTagLedger(stores, tag);
  let broken = true;
  try {
    for await (const piece of ledger.pieces(from, to, reader)) {
      if (asker.gone) throw new AskerLeft();
      yield piece;
    }
    broken = false;
  } finally {
    await ledger.close(broken);
  }
}

/** Lets one question be asked of a tag's ledger. */
export async function askLedger<T>(
  stores: Stores,
  tag: Pick<ReadTag, 'id' | 'store'>,
  question: (ledger: TagLedger) => Promise<T>,
): Promise<T> {
  const ledger = await openTagLedger(stores, tag);
  let broken = true;
  try {
    const answer = await question(ledger);
    broken = false;
    return answer;
  } finally {
    await ledger.close(broken);
  }
}
