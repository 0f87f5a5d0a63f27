/** A controller's ring as OPC UA gives it out: ReadRaw with bounds (OPC 10000-11, 6.4.3.2). */
import type { DataValue, IVariableHistorian, ReadRawModifiedDetails } from 'node-opcua';
import type { Kept } from '../../plant/ring.ts';
import type { OpcUa } from './library.ts';

/** Dates before this are the library's way of saying that none was given. */
const NO_DATE = Date.UTC(1602, 0, 1);
const timeOf = (date: Date | null, otherwise: number): number =>
  date === null || date.getTime() < NO_DATE ? otherwise : date.getTime();

/**
 * The historian of one variable.
 * @param kept what the ring holds of it. @param valueOf a value as the protocol has it.
 */
export function ringHistorian(
  { DataValue, StatusCodes }: OpcUa,
  kept: () => readonly Kept[],
  valueOf: (kept: Kept) => DataValue,
): IVariableHistorian {
  const noBound = (time: number): DataValue =>
    new DataValue({ statusCode: StatusCodes.BadBoundNotFound, sourceTimestamp: new Date(time) });
  const read = (details: ReadRawModifiedDetails, most: number): DataValue[] => {
    const [from, to] = [timeOf(details.startTime, -Infinity), timeOf(details.endTime, Infinity)];
    const all = kept();
    const inside = all.filter(({ time }) => time >= from && time <= to).map(valueOf);
    if (details.returnBounds && from > -Infinity && all.every(({ time }) => time !== from)) {
      const before = all.findLast(({ time }) => time < from);
      inside.unshift(before ? valueOf(before) : noBound(from));
    }
    if (details.returnBounds && to < Infinity && all.every(({ time }) => time !== to)) {
      const after = all.find(({ time }) => time > to);
      inside.push(after ? valueOf(after) : noBound(to));
    }
    return most > 0 ? inside.slice(0, most) : inside;
  };
  return {
    // What is written into the ring is not what is written into the variable.
    push: () => Promise.resolve(),
    extractDataValues: (details, most, isReversed, reverseDataValue, callback) => {
      const ascending = read(details, isReversed ? 0 : most);
      const values = isReversed || reverseDataValue ? ascending.reverse() : ascending;
      callback(null, isReversed && most > 0 ? values.slice(0, most) : values);
    },
  };
}
