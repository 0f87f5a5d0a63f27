/** JSON whose whole numbers stay exact: beyond 2^53 they are bigints, everything else is as `JSON.parse` has it. */
import { parse } from 'lossless-json';

/** A whole number of so many digits that a double may not hold it; fractions and exponents are doubles anyway. */
const LONG_WHOLE = /(?<![\d.])\d{16,}(?![\d.eE])/g;

const exactNumber = (text: string): number | bigint =>
  /^-?\d+$/.test(text) && !Number.isSafeInteger(Number(text)) ? BigInt(text) : Number(text);

/** @throws SyntaxError as `JSON.parse` does */
export function parseExactJson(text: string): unknown {
  const plain = JSON.parse(text) as unknown;
  for (const [digits] of text.matchAll(LONG_WHOLE))
    if (!Number.isSafeInteger(Number(digits)))
      return parse(text, null, { parseNumber: exactNumber, onDuplicateKey: ({ newValue }) => newValue });
  return plain;
}

/** A number written as text, as some devices send it: `1.25`, `-3e4`; whole ones stay exact. Undefined where it is none. */
export function numberInText(text: string): number | bigint | undefined {
  const plain = text.trim();
  if (!/^[+-]?(\d+\.?\d*|\.\d+)([eE][+-]?\d+)?$/.test(plain)) return undefined;
  return exactNumber(plain.replace(/^\+/, ''));
}

/**
 * The same message with its long whole numbers as text: for who reckons in doubles, and would round them. A tag that keeps
 * numbers takes such a text for the number that it is.
 */
export function withoutBigints(message: unknown): unknown {
  if (typeof message === 'bigint') return String(message);
  if (Array.isArray(message)) return message.map(withoutBigints);
  if (typeof message !== 'object' || message === null) return message;
  return Object.fromEntries(Object.entries(message).map(([name, value]) => [name, withoutBigints(value)]));
}

/** As JSON, bigints as their digits. */
export const exactJsonText = (value: unknown): string =>
  JSON.stringify(value, (_, one: unknown) => (typeof one === 'bigint' ? Number(one) : one)) ?? '';
