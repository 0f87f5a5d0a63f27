/** A collector as a source: what it says about itself, and about the sources that it reads, as tags with a history. */
import { z } from 'zod';
import { rowId } from '../common.ts';
import { describeKind } from './describe.ts';

export interface Figure {
  readonly words: string;
  readonly type: 'real' | 'integer' | 'state';
  readonly unit: string;
  readonly states?: readonly string[];
}

/** Of the collector as a whole. */
export const OWN_FIGURES = {
  state: { words: 'state', type: 'state', unit: '', states: ['in trouble', 'a source is away', 'all is well'] },
  version: { words: 'version of the configuration that it runs', type: 'integer', unit: '' },
  values: { words: 'values read', type: 'real', unit: '1/s' },
  away: { words: 'sources that are away', type: 'integer', unit: '' },
  late: { words: 'lateness of its reads, 99 in 100 less, of the worst source', type: 'real', unit: 'ms' },
  waiting: { words: 'values that wait to be delivered', type: 'integer', unit: '' },
  'put-away': { words: 'parts of entries that the server refused', type: 'integer', unit: '' },
  'spool-free': { words: 'free space on the disk of its spool', type: 'real', unit: 'GB' },
  'archive-free': { words: 'free space where the archive is', type: 'real', unit: 'GB' },
  contact: { words: 'time since the server last answered', type: 'real', unit: 's' },
  'server-clock': { words: 'clock of the server minus its own', type: 'real', unit: 'ms' },
  processor: { words: 'share of one core that it takes', type: 'real', unit: '%' },
  memory: { words: 'memory that it takes', type: 'real', unit: 'MB' },
} as const satisfies Record<string, Figure>;
export type OwnFigure = keyof typeof OWN_FIGURES;

/** Of one source that it reads. */
export const SOURCE_FIGURES = {
  state: { words: 'state', type: 'state', unit: '', states: ['connecting', 'watching', 'away'] },
  values: { words: 'values read', type: 'real', unit: '1/s' },
  late: { words: 'lateness of its reads, 99 in 100 less', type: 'real', unit: 'ms' },
  answer: { words: 'time to an answer, 99 in 100 less', type: 'real', unit: 'ms' },
  clock: { words: 'clock of the source minus that of the collector', type: 'real', unit: 'ms' },
} as const satisfies Record<string, Figure>;
export type SourceFigure = keyof typeof SOURCE_FIGURES;

const FIGURES = [...new Set([...Object.keys(OWN_FIGURES), ...Object.keys(SOURCE_FIGURES)])] as [
  OwnFigure | SourceFigure,
  ...(OwnFigure | SourceFigure)[],
];

export const itselfAddress = z
  .strictObject({
    figure: z.enum(FIGURES).meta({ title: 'Figure' }),
    source: rowId.optional().meta({ title: 'Of source', description: 'its number; empty: of the collector' }),
  })
  .refine(
    ({ figure, source }) => Object.hasOwn(source === undefined ? OWN_FIGURES : SOURCE_FIGURES, figure),
    'There is no such figure of a source, or of a collector.',
  );
export type ItselfAddress = z.infer<typeof itselfAddress>;

/** An address as a node of the tree, and back. */
export const itselfNode = ({ figure, source }: ItselfAddress): string =>
  source === undefined ? figure : `${source}/${figure}`;
export function itselfAddressOf(node: string): ItselfAddress {
  const [, source, figure] = /^(?:(\d+)\/)?(.*)$/.exec(node)!;
  return itselfAddress.parse({ figure, ...(source === undefined ? {} : { source: Number(source) }) });
}

export const itself = describeKind({
  kind: 'collector',
  words: 'Collector itself',
  connection: z.strictObject({}),
  address: itselfAddress,
  whither: () => 'what it says about itself',
  where: ({ figure, source }) => (source === undefined ? figure : `${figure} of source ${source}`),
  rungs: ['answer', 'value'],
  offers: { poll: true, subscribe: false, browse: true, history: false, events: false, write: false },
});
