/** What a server kept of a node's past: ReadRaw with bounds and continuation points (OPC 10000-11, 6.4.3). */
import { explain, opcUaFault } from '@wide-ledger/core';
import type { ClientSession, DataValue, HistoryData } from 'node-opcua-client';
import { HistoryRefused, type HistoryPart, type HistoryRequest, type TagOf } from '../kind.ts';
import type { OpcUa } from './library.ts';
import { sampleOf, timeOf } from './values.ts';

/** Time stamps of the protocol are in tenths of a microsecond, those of the library in milliseconds. */
const dateOf = (micros: number, round: (value: number) => number): Date => new Date(round(micros / 1000));

/** No controller is older, and none remembers what is to come. */
const EARLIEST = Date.UTC(1980, 0, 1) * 1000;
const LATEST = Date.UTC(2200, 0, 1) * 1000;

interface Answer {
  readonly values: readonly DataValue[];
  readonly continuationPoint: Buffer | null;
}

/** One call. @throws HistoryRefused where the server gives nothing of this node. */
async function call(
  library: OpcUa,
  session: ClientSession,
  { tag, from, to, most, newestFirst }: HistoryRequest<'opc-ua'>,
  continuationPoint: Buffer | null,
  release = false,
): Promise<Answer> {
  const { HistoryReadRequest, ReadRawModifiedDetails, TimestampsToReturn } = library;
  const [earliest, latest] = [dateOf(from, Math.floor), dateOf(to, Math.ceil)];
  const response = await session.historyRead(
    new HistoryReadRequest({
      historyReadDetails: new ReadRawModifiedDetails({
        isReadModified: false,
        startTime: newestFirst ? latest : earliest,
        endTime: newestFirst ? earliest : latest,
        numValuesPerNode: most,
        returnBounds: true,
      }),
      nodesToRead: [{ nodeId: tag.reading.address.node, ...(continuationPoint ? { continuationPoint } : {}) }],
      releaseContinuationPoints: release,
      timestampsToReturn: TimestampsToReturn.Both,
    }),
  );
  const [result] = response.results ?? [];
  if (!result) return { values: [], continuationPoint: null };
  if (result.statusCode.value >>> 31 === 1) {
    const { value, name } = result.statusCode;
    throw new HistoryRefused(explain(opcUaFault(value, name)), name);
  }
  const point = result.continuationPoint as Buffer | undefined;
  const data = result.historyData as HistoryData | null;
  return { values: data?.dataValues ?? [], continuationPoint: point && point.length > 0 ? point : null };
}

/** Whether there is a value before the window, of a server that took no notice of being asked for bounds. */
async function hasBefore(library: OpcUa, session: ClientSession, request: HistoryRequest<'opc-ua'>): Promise<boolean> {
  const before = { ...request, from: EARLIEST, to: request.from, most: 1, newestFirst: true };
  const { values } = await call(library, session, before, null);
  return values.some(({ statusCode }) => statusCode.value !== library.StatusCodes.BadBoundNotFound.value);
}

/** When the oldest value is from that the server still has of a node, in microseconds; null where it has none. */
export async function historyStart(
  library: OpcUa,
  session: ClientSession,
  tag: TagOf<'opc-ua'>,
): Promise<number | null> {
  // A bound of the start, which there is none of, counts among the values.
  const request = { tag, from: EARLIEST, to: LATEST, most: 2, newestFirst: false };
  const { values } = await call(library, session, request, null, false).catch((error: unknown) => {
    if (error instanceof HistoryRefused) return { values: [] };
    throw error;
  });
  const times = values
    .filter(({ statusCode }) => statusCode.value !== library.StatusCodes.BadBoundNotFound.value)
    .map(timeOf);
  return times[0] ?? null;
}

/**
 * What lies between two moments, and whether the server has a value at or before the first: with bounds asked for, it
 * gives that value, or says that there is none. Who leaves early gives the continuation point back.
 */
export async function* readHistory(
  library: OpcUa,
  session: ClientSession,
  request: HistoryRequest<'opc-ua'>,
): AsyncGenerator<HistoryPart, void, void> {
  const { tag, from, newestFirst } = request;
  const noBound = library.StatusCodes.BadBoundNotFound.value;
  let point: Buffer | null = null;
  let first = true;
  try {
    do {
      const answer: Answer = await call(library, session, request, point);
      point = answer.continuationPoint;
      const real = answer.values.filter(({ statusCode }) => statusCode.value !== noBound);
      const samples = real.map((value) => sampleOf(tag, value, library));
      // The bound of the start comes first, or last where the newest do.
      const tells = newestFirst ? point === null : first;
      const bounded = real.some((value) => (timeOf(value) ?? Infinity) <= from);
      const denied = real.length < answer.values.length;
      const reachesBack = tells ? bounded || (!denied && (await hasBefore(library, session, request))) : null;
      yield { samples, more: point !== null, reachesBack };
      first = false;
    } while (point !== null);
  } finally {
    if (point !== null) await call(library, session, request, point, true).catch(() => undefined);
  }
}
