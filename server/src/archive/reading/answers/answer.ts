/** Every reading request to its answer, as chunks in the format asked for. */
import type { Stores } from '../../stores/stores.ts';
import type { Chunk } from '../formats/table.ts';
import { writeAnswer } from '../formats/write.ts';
import type { ReadRequest, Asker } from '../requests.ts';
import { atTimesAnswer } from './atTimes.ts';
import { computedAnswer } from './computed.ts';
import { envelopeAnswer } from './envelope.ts';
import { modifiedAnswer } from './modified.ts';
import { processedAnswer } from './processed.ts';
import { rawAnswer } from './raw.ts';

export function answer(stores: Stores, request: ReadRequest, asker: Asker): AsyncGenerator<Chunk> {
  switch (request.kind) {
    case 'raw':
      return writeAnswer(rawAnswer(stores, request, asker), request.format);
    case 'processed':
      return writeAnswer(processedAnswer(stores, request, asker), request.format);
    case 'computed':
      return writeAnswer(computedAnswer(stores, request, asker), request.format);
    case 'at':
      return writeAnswer(atTimesAnswer(stores, request, asker), request.format);
    case 'modified':
      return writeAnswer(modifiedAnswer(stores, request, asker), request.format);
    case 'envelope':
      return envelopeAnswer(stores, request, asker);
  }
}
