/**
 * OPC UA status codes as this product uses them: 32 bits, severity in the top two, what happened in the
 * next fourteen, information bits in the low sixteen. Codes: OPC 10000-4 and 10000-13.
 */
export const Status = {
  Good: 0,
  GoodClamped: 0x00300000,
  GoodLocalOverride: 0x00960000,
  GoodEntryInserted: 0x00a20000,
  GoodEntryReplaced: 0x00a30000,
  Uncertain: 0x40000000,
  UncertainNoCommunicationLastUsableValue: 0x408f0000,
  UncertainLastUsableValue: 0x40900000,
  UncertainSubstituteValue: 0x40910000,
  UncertainInitialValue: 0x40920000,
  UncertainSensorNotAccurate: 0x40930000,
  UncertainEngineeringUnitsExceeded: 0x40940000,
  UncertainSubNormal: 0x40950000,
  UncertainDataSubNormal: 0x40a40000,
  Bad: 0x80000000,
  BadUnexpectedError: 0x80010000,
  BadInternalError: 0x80020000,
  BadOutOfMemory: 0x80030000,
  BadResourceUnavailable: 0x80040000,
  BadCommunicationError: 0x80050000,
  BadDecodingError: 0x80070000,
  BadTimeout: 0x800a0000,
  BadShutdown: 0x800c0000,
  BadServerNotConnected: 0x800d0000,
  BadServerHalted: 0x800e0000,
  BadUserAccessDenied: 0x801f0000,
  BadNoCommunication: 0x80310000,
  BadWaitingForInitialData: 0x80320000,
  BadNodeIdInvalid: 0x80330000,
  BadNodeIdUnknown: 0x80340000,
  BadAttributeIdInvalid: 0x80350000,
  BadIndexRangeInvalid: 0x80360000,
  BadIndexRangeNoData: 0x80370000,
  BadDataEncodingInvalid: 0x80380000,
  BadNotReadable: 0x803a0000,
  BadNotWritable: 0x803b0000,
  BadOutOfRange: 0x803c0000,
  BadNotSupported: 0x803d0000,
  BadWriteNotSupported: 0x80730000,
  BadTypeMismatch: 0x80740000,
  BadConfigurationError: 0x80890000,
  BadNotConnected: 0x808a0000,
  BadDeviceFailure: 0x808b0000,
  BadSensorFailure: 0x808c0000,
  BadOutOfService: 0x808d0000,
  BadNoData: 0x809b0000,
  BadDataLost: 0x809d0000,
  BadEntryExists: 0x809f0000,
  BadNoEntryExists: 0x80a00000,
  BadInvalidArgument: 0x80ab0000,
  BadInvalidState: 0x80af0000,
  BadNoDataAvailable: 0x80b10000,
  BadAggregateNotSupported: 0x80d50000,
  BadAggregateInvalidInputs: 0x80d60000,
  BadBoundNotFound: 0x80d70000,
} as const;

/** Names as they are accepted from outside and shown, in the spelling of the standard's tables. */
const namesByCode = new Map<number, string>(
  Object.entries(Status).map(([name, code]) => [code, name.replace(/^(Good|Uncertain|Bad)(?=.)/, '$1_')]),
);

const codesByName = new Map<string, number>(
  [...namesByCode].flatMap(([code, name]) => [
    [name.toLowerCase(), code],
    [name.replace('_', '').toLowerCase(), code],
  ]),
);

const SEVERITY = 0xc0000000;

/** Information bits of a historian's answer (OPC 10000-4, InfoType DataValue). */
export const InfoBits = {
  dataValue: 0x0400,
  calculated: 0x01,
  interpolated: 0x02,
  partial: 0x04,
  extraData: 0x08,
  multipleValues: 0x10,
} as const;

export type Severity = 'Good' | 'Uncertain' | 'Bad';

/** The severity of a status code. The code 0xC0000000 is reserved and is treated as Bad. */
export function severityOf(status: number): Severity {
  if (status >>> 31 === 1) return 'Bad';
  return status >>> 30 === 1 ? 'Uncertain' : 'Good';
}

/** Whether the two severity bits of a 32-bit status code are 00. */
export const isGood = (status: number): boolean => (status & SEVERITY) === 0;
/** Whether the severity bits are 10, or the reserved 11. */
export const isBad = (status: number): boolean => status >>> 31 === 1;
/** Whether the severity bits are 01. */
export const isUncertain = (status: number): boolean => status >>> 30 === 1;

/** The code without its sixteen information bits. */
export const withoutInfoBits = (status: number): number => (status & 0xffff0000) >>> 0;

/** Adds historian information bits to a code; InfoType DataValue is set as soon as one of them is. */
export function withInfoBits(status: number, bits: number): number {
  return bits === 0 ? status >>> 0 : (status | InfoBits.dataValue | bits) >>> 0;
}

/**
 * The status that stands for "there is no value here any more" in a frame on its way to the ledger, which keeps none
 * of it: how a deletion travels through journal and links like every other entry.
 */
export const REMOVED = Status.BadNoEntryExists;

/** Words of the codes met so far: the same few come again in every row. */
const described = new Map<number, string>();
const MOST_DESCRIBED = 1000;

/** A status in words for people and for the `quality` field, e.g. `Good, Calculated, Partial`. */
export function describeStatus(status: number): string {
  const known = described.get(status);
  if (known !== undefined) return known;
  const words = wordsOf(status).join(', ');
  if (described.size < MOST_DESCRIBED) described.set(status, words);
  return words;
}

function wordsOf(status: number): string[] {
  const base = withoutInfoBits(status);
  const words = [
    namesByCode.get(base) ?? `${severityOf(status)} (0x${base.toString(16).toUpperCase().padStart(8, '0')})`,
  ];
  if ((status & 0x0c00) === InfoBits.dataValue) {
    const source = status & 0x03;
    if (source === InfoBits.calculated) words.push('Calculated');
    if (source === InfoBits.interpolated) words.push('Interpolated');
    if (status & InfoBits.partial) words.push('Partial');
    if (status & InfoBits.extraData) words.push('ExtraData');
    if (status & InfoBits.multipleValues) words.push('MultipleValues');
  }
  return words;
}

/**
 * Reads a status given by a person or a program: a name such as `Good` or `Bad_NoCommunication`, or a number.
 * @returns the 32-bit code, or undefined when the name is not known or the number does not fit 32 bits.
 */
export function parseStatus(given: string | number): number | undefined {
  if (typeof given === 'number') {
    return Number.isInteger(given) && given >= 0 && given <= 0xffffffff ? given : undefined;
  }
  return codesByName.get(given.trim().toLowerCase());
}
