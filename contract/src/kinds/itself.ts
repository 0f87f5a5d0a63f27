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

/** Of a link that leaves from the site that it delivers to, as the site tells. */
export const LINK_FIGURES = {
  state: { words: 'state', type: 'state', unit: '', states: ['away', 'paused', 'starting', 'carrying', 'level'] },
  waiting: { words: 'values that wait to be carried', type: 'integer', unit: '' },
  lag: { words: 'age of the oldest value that is not acknowledged', type: 'real', unit: 's' },
  values: { words: 'values carried', type: 'real', unit: '1/s' },
  bytes: { words: 'bytes on the line', type: 'real', unit: 'B/s' },
  'set-aside': { words: 'values that the far end could not keep', type: 'integer', unit: '' },
} as const satisfies Record<string, Figure>;
export type LinkFigure = keyof typeof LINK_FIGURES;

/** Of a link that arrives at that site. */
export const ARRIVAL_FIGURES = {
  state: {
    words: 'state',
    type: 'state',
    unit: '',
    states: ['revoked', 'invited', 'silent', 'never sent anything', 'arriving'],
  },
  silence: { words: 'time since it was heard of', type: 'real', unit: 's' },
  received: { words: 'values that it has brought', type: 'integer', unit: '' },
  'set-aside': { words: 'values of it that could not be kept', type: 'integer', unit: '' },
} as const satisfies Record<string, Figure>;
export type ArrivalFigure = keyof typeof ARRIVAL_FIGURES;

/** What has figures: the collector as a whole, or what an address names by its number. */
export const FIGURES_OF = {
  collector: OWN_FIGURES,
  source: SOURCE_FIGURES,
  link: LINK_FIGURES,
  arrival: ARRIVAL_FIGURES,
} as const satisfies Record<string, Readonly<Record<string, Figure>>>;
export type FigureOwner = keyof typeof FIGURES_OF;
const NUMBERED = ['source', 'link', 'arrival'] as const;
/** Whichever of them is named by its number; none: the collector itself. */
type Numbered = Partial<Record<(typeof NUMBERED)[number], number | undefined>>;

type AnyFigure = OwnFigure | SourceFigure | LinkFigure | ArrivalFigure;
const FIGURES = [...new Set(Object.values(FIGURES_OF).flatMap((figures) => Object.keys(figures)))] as [
  AnyFigure,
  ...AnyFigure[],
];

const numberOf = (title: string) =>
  rowId.optional().meta({ title, description: 'its number; empty everywhere: of the collector' });

export const itselfAddress = z
  .strictObject({
    figure: z.enum(FIGURES).meta({ title: 'Figure' }),
    source: numberOf('Of source'),
    link: numberOf('Of link'),
    arrival: numberOf('Of arriving link'),
  })
  .refine(
    (address) => NUMBERED.filter((owner) => address[owner] !== undefined).length <= 1,
    'It is of a source, of a link, or of an arriving one.',
  )
  .refine((address) => Object.hasOwn(FIGURES_OF[ownerOf(address)], address.figure), 'There is no such figure of this.');
export type ItselfAddress = z.infer<typeof itselfAddress>;

/** Whose figure an address names. */
export function ownerOf(address: Numbered): FigureOwner {
  return NUMBERED.find((owner) => address[owner] !== undefined) ?? 'collector';
}

/** The number by which an owner is known; null for the collector itself. */
export function ownerNumber(address: ItselfAddress): number | null {
  const owner = ownerOf(address);
  return owner === 'collector' ? null : (address[owner] ?? null);
}

/** An address as a node of the tree, and back: `memory`, `7/late` of a source, `link 3/lag`. */
export function itselfNode(address: ItselfAddress): string {
  const owner = ownerOf(address);
  const number = ownerNumber(address);
  if (number === null) return address.figure;
  return `${owner === 'source' ? '' : `${owner} `}${number}/${address.figure}`;
}
export function itselfAddressOf(node: string): ItselfAddress {
  const [, owner = 'source', number, figure] = /^(?:(?:(link|arrival) )?(\d+)\/)?(.*)$/.exec(node)!;
  return itselfAddress.parse({ figure, ...(number === undefined ? {} : { [owner]: Number(number) }) });
}

export const itself = describeKind({
  kind: 'collector',
  words: 'Collector itself',
  connection: z.strictObject({}),
  address: itselfAddress,
  whither: () => 'what it says about itself',
  where: (address) => {
    const number = ownerNumber(address);
    return number === null ? address.figure : `${address.figure} of ${ownerOf(address)} ${number}`;
  },
  rungs: ['answer', 'value'],
  offers: { poll: true, subscribe: false, browse: true, history: false, events: false, write: false },
});
