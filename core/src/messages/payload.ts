/** What a payload says, as what paths lead into: JSON, a text, or lines of cells. */
import { numberInText, parseExactJson } from './exactJson.ts';

export const PAYLOADS = ['json', 'text', 'csv'] as const;
export type PayloadForm = (typeof PAYLOADS)[number];

/** Characters of a text that is kept as a value. */
const LONGEST_TEXT = 4_000;

/**
 * Reads a payload.
 * - json: as it is.
 * - text: a number where it is one, else the text.
 * - csv: the cells of a line, or of each line where there are several; cells are separated by semicolons, tabs or commas,
 *   whichever comes first of these in the text.
 * @throws SyntaxError with a sentence where it is not of its form.
 */
export function readPayload(text: string, form: PayloadForm): unknown {
  if (form === 'json') {
    try {
      return parseExactJson(text);
    } catch (error) {
      throw new SyntaxError(`The message is no JSON: ${(error as Error).message}.`, { cause: error });
    }
  }
  if (form === 'text') return cell(text);
  const separator = [';', '\t', ','].find((one) => text.includes(one)) ?? ';';
  const lines = text.split(/\r?\n/).filter((line) => line.trim() !== '');
  const rows = lines.map((line) => cellsOf(line, separator));
  return rows.length === 1 ? rows[0] : rows;
}

/** The cells of a line (RFC 4180: quoted where they hold the separator, a quote doubled within). */
function cellsOf(line: string, separator: string): unknown[] {
  const cells: unknown[] = [];
  for (let rest = line; ;) {
    const quoted = /^"((?:[^"]|"")*)"/.exec(rest);
    const end = quoted ? quoted[0].length : rest.indexOf(separator);
    const whole = end === -1 ? rest : rest.slice(0, end);
    cells.push(quoted ? quoted[1]!.replaceAll('""', '"') : cell(whole));
    const next = quoted ? rest.indexOf(separator, end) : end;
    if (next === -1) return cells;
    rest = rest.slice(next + separator.length);
  }
}

const cell = (text: string): number | bigint | string => numberInText(text) ?? text.trim().slice(0, LONGEST_TEXT);
