/** Every reading request to its answer, as chunks in the format asked for. */
import type { Stores } from '../../stores/stores.ts';
import { withLocalTime } from '../formats/localTime.ts';
import type { Answer, Chunk } from '../formats/table.ts';
import { writeAnswer } from '../formats/write.ts';
import type { ReadRequest, Asker } from '../requests.ts';
import { atTimesAnswer } from './atTimes.ts';
import { computedAnswer } from './computed.ts';
import { envelopeAnswer } from './envelope.ts';
import { modifiedAnswer } from './modified.ts';
import { processedAnswer } from './processed.ts';
import { rawAnswer } from './raw.ts';

/** The answer to any reading, piece by piece in its format. @throws ProblemError before the first piece where the request cannot be met. */
export function answer(stores: Stores, request: ReadRequest, asker: Asker): AsyncGenerator<Chunk> {
  if (request.kind === 'envelope') return envelopeAnswer(stores, request, asker);
  const tables = tablesOf(stores, request, asker);
  return writeAnswer(request.localZone === null ? tables : withLocalTime(tables, request.localZone), request.format);
}

function tablesOf(stores: Stores, request: Exclude<ReadRequest, { kind: 'envelope' }>, asker: Asker): Answer {
  switch (request.kind) {
    case 'raw':
      return rawAnswer(stores, request, asker);
    case 'processed':
      return processedAnswer(stores, request, asker);
    case 'computed':
      return computedAnswer(stores, request, asker);
    case 'at':
      return atTimesAnswer(stores, request, asker);
    case 'modified':
      return modifiedAnswer(stores, request, asker);
  }
}
