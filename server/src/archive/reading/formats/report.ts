/** A completeness report to print: pages of A4 with places, days, and the gaps with what became of them. */
import type { Gap } from '@wide-ledger/contract';
import { HOUR, completePercent, sumOf } from '@wide-ledger/core';
import { DateTime } from 'luxon';
import { createRequire } from 'node:module';
import { dirname, join } from 'node:path';
import type pdfmake from 'pdfmake';
import type { Content, TableCell } from 'pdfmake/interfaces.js';
import type { CompletenessOf, CompletenessRequest } from '../../coverage/completeness.ts';

const fonts = join(dirname(createRequire(import.meta.url).resolve('pdfmake/package.json')), 'fonts/Roboto');

/** Loaded when somebody wants a report: it takes most of a second. */
async function printer(): Promise<typeof pdfmake> {
  const { default: library } = await import('pdfmake');
  library.setFonts({
    Roboto: {
      normal: join(fonts, 'Roboto-Regular.ttf'),
      bold: join(fonts, 'Roboto-Medium.ttf'),
      italics: join(fonts, 'Roboto-Italic.ttf'),
      bolditalics: join(fonts, 'Roboto-MediumItalic.ttf'),
    },
  });
  // A report is made of text alone: nothing is fetched, and of files only its fonts are read.
  library.setUrlAccessPolicy(() => false);
  library.setLocalAccessPolicy((path) => path.startsWith(fonts));
  return library;
}

/** More rows and gaps are counted, not listed: the workbook has them all. */
const MOST_ROWS = 500;
const MOST_GAPS = 400;
/** So many cells stand beside each other on a page. */
const CELLS_A_TABLE = 16;

const INK = '#1D2A2C';
const INK_2 = '#566264';
const RULE = '#DAD3C2';
const MADDER = '#A9322A';

const rules = {
  hLineWidth: () => 0.5,
  vLineWidth: () => 0,
  hLineColor: () => RULE,
  paddingTop: () => 2,
  paddingBottom: () => 2,
};

const percentWords = (percent: number | null): string =>
  // Rounded down: what is not whole is never said to be.
  percent === null ? '–' : (Math.floor(percent * 100) / 100).toFixed(2);
const hours = (micros: number): string => (micros / HOUR).toLocaleString('en', { maximumFractionDigits: 2 });
const right = (text: string): TableCell => ({ text, alignment: 'right' });
const head = (text: string): TableCell => ({ text, color: INK_2, alignment: 'right' });
const percentCell = (percent: number | null): TableCell => ({
  text: percentWords(percent),
  alignment: 'right',
  ...(percent !== null && percent < 100 ? { color: MADDER } : {}),
});

/** @param names of the cells. @returns the bytes of the PDF. */
export async function writeReport(
  request: CompletenessRequest,
  names: readonly string[],
  all: readonly CompletenessOf[],
  gaps: readonly Gap[],
): Promise<Uint8Array> {
  const rows = all.slice(0, MOST_ROWS);
  const { window, zone, site, now } = request;
  const clock = (micros: number, format: string): string =>
    DateTime.fromMillis(micros / 1000, { zone })
      .setLocale('en')
      .toFormat(format);
  const stamp = (micros: number): string => clock(micros, 'd LLL yyyy HH:mm');
  const nameOf = ({ place, tag }: CompletenessOf): string => tag ?? (place === '' ? site : place);
  const content: Content[] = [
    { text: 'Completeness', fontSize: 18, bold: true },
    { text: `${site}, ${stamp(window.from)} to ${stamp(window.to)} (${zone})`, margin: [0, 2, 0, 0] },
    {
      text: `Made on ${stamp(now)}. Complete is what was watched or recovered, of the time in which tags were meant to be collected; several tags count one by one.`,
      color: INK_2,
      margin: [0, 2, 0, 10],
    },
    {
      table: {
        headerRows: 1,
        widths: ['*', 'auto', 'auto', 'auto', 'auto', 'auto'],
        body: [
          [{ text: 'Place', color: INK_2 }, ...['Tags', 'Due h', 'Missing h', 'Explained h', 'Complete %'].map(head)],
          ...rows.map((row): TableCell[] => {
            const whole = sumOf(row.cells);
            return [
              nameOf(row),
              right(String(row.tags)),
              right(hours(whole.due)),
              right(hours(whole.missing)),
              right(hours(whole.explained)),
              percentCell(completePercent(whole)),
            ];
          }),
        ],
      },
      layout: rules,
    },
    ...(all.length > rows.length ? [{ text: `The first ${rows.length} of ${all.length} rows.`, color: INK_2 }] : []),
    ...cellTables(names, rows, nameOf),
    ...gapTable(gaps, (instant) => stamp(Date.parse(instant) * 1000)),
  ];
  const made = (await printer()).createPdf({
    pageSize: 'A4',
    pageOrientation: 'landscape',
    pageMargins: [36, 36, 36, 40],
    info: { title: `Completeness, ${site}`, creator: 'Wide Ledger' },
    defaultStyle: { font: 'Roboto', fontSize: 8, color: INK },
    content,
    footer: (page, pages) => ({
      text: `${page} of ${pages}`,
      alignment: 'right',
      color: INK_2,
      margin: [0, 12, 36, 0],
    }),
  });
  return made.getBuffer();
}

/** Places by cells, as many beside each other as a page holds. */
function cellTables(
  names: readonly string[],
  rows: readonly CompletenessOf[],
  nameOf: (row: CompletenessOf) => string,
): Content[] {
  const tables: Content[] = [];
  for (let at = 0; at < names.length; at += CELLS_A_TABLE) {
    const those = names.slice(at, at + CELLS_A_TABLE);
    tables.push(
      { text: `${those[0]} to ${those.at(-1)}, per cent`, bold: true, margin: [0, 12, 0, 4] },
      {
        table: {
          headerRows: 1,
          widths: ['*', ...those.map(() => 32)],
          body: [
            [{ text: 'Place', color: INK_2 }, ...those.map((name) => head(shortName(name)))],
            ...rows.map((row): TableCell[] => [
              indented(row, nameOf(row)),
              ...row.cells.slice(at, at + CELLS_A_TABLE).map((cell) => percentCell(completePercent(cell))),
            ]),
          ],
        },
        layout: rules,
      },
    );
  }
  return tables;
}

/** A place by its own name alone, as far in as it lies. */
const indented = ({ place, tag }: CompletenessOf, name: string): TableCell =>
  tag !== null || place === ''
    ? name
    : { text: place.split(' / ').at(-1)!, margin: [6 * (place.split(' / ').length - 1), 0, 0, 0] };

/** Of a date the day, of an hour its clock time: the head of the table says the rest. */
const shortName = (name: string): string => /(\d\d:\d\d)/.exec(name)?.[1] ?? name.slice(5);

function gapTable(gaps: readonly Gap[], stamp: (instant: string) => string): Content[] {
  if (gaps.length === 0) return [{ text: 'No gaps.', margin: [0, 12, 0, 0] }];
  const listed = gaps.slice(0, MOST_GAPS);
  const more = gaps.length > listed.length ? `, the latest ${listed.length} of ${gaps.length}` : '';
  return [
    { text: `Gaps${more}`, bold: true, margin: [0, 12, 0, 4] },
    {
      table: {
        headerRows: 1,
        widths: ['auto', 'auto', 'auto', '*', 'auto', '*'],
        body: [
          ['From', 'To', 'Where', 'What happened', 'State', 'Explained'].map((text) => ({ text, color: INK_2 })),
          ...listed.map(({ from, to, tag, tags, source, sentence, state, explained }): TableCell[] => [
            stamp(from),
            stamp(to),
            tag ?? `${source ?? ''} (${tags} tags)`,
            sentence,
            state,
            explained ? `${explained.reason} (${explained.by})` : '',
          ]),
        ],
      },
      layout: rules,
    },
  ];
}
