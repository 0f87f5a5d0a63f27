/** Every reading request to its answer, as chunks in the format asked for. */
import type { Stores } from '../../stores/stores.ts';
import type { Chunk } from '../formats/table.ts';
import { writeAnswer } from '../formats/write.ts';
import type { ReadRequest, Waiting } from '../requests.ts';
import { atTimesAnswer } from './atTimes.ts';
import { computedAnswer } from './computed.ts';
import { envelopeAnswer } from './envelope.ts';
import { modifiedAnswer } from './modified.ts';
import { processedAnswer } from './processed.ts';
import { rawAnswer } from './raw.ts';

export function answer(stores: Stores, request: ReadRequest, waiting: Waiting): AsyncGenerator<Chunk> {
  switch (request.kind) {
    case 'raw':
      return writeAnswer(rawAnswer(stores, request, waiting), request.format);
    case 'processed':
      return writeAnswer(processedAnswer(stores, request, waiting), request.format);
    case 'computed':
      return writeAnswer(computedAnswer(stores, request, waiting), request.format);
    case 'at':
      return writeAnswer(atTimesAnswer(stores, request, waiting), request.format);
    case 'modified':
      return writeAnswer(modifiedAnswer(stores, request, waiting), request.format);
    case 'envelope':
      return envelopeAnswer(stores, request, waiting);
  }
}
