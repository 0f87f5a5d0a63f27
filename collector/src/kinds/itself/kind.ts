/** A collector as a source of its own: asked at intervals, never away while it runs, without a past of its own. */
import {
  OWN_FIGURES,
  SOURCE_FIGURES,
  itselfNode,
  type BrowseAnswer,
  type BrowsedNode,
  type Figure,
  type ItselfAddress,
} from '@wide-ledger/contract';
import { describeStatus } from '@wide-ledger/core';
import type { Account } from '../../account/account.ts';
import { walk, type Outcome } from '../../connection/pathWalk.ts';
import type { Kind, PolledSession, SourceOf, Surroundings } from '../kind.ts';
import type { Load } from './figures.ts';
import { ItselfSession, LoadMeter, figureOf } from './session.ts';

/** The nodes below which its own figures lie, and those of a source. */
const OWN_FOLDER = 'collector';
const FOLDER = /^source (\d+)$/;
const folderOf = (source: number): string => `source ${source}`;

export const itself: Kind<'collector', PolledSession<'collector'>> = {
  check: (source, around, told) =>
    walk(
      [
        ['answer', () => isTheOneMeant(source, around)],
        ['value', () => firstValue(around)],
      ],
      told,
    ),
  open: (_source, around) => Promise.resolve(new ItselfSession(around)),
  browse: async (_source, node, around) => lookInto(node, await around.account()),
};

async function isTheOneMeant(
  { collector }: Pick<SourceOf<'collector'>, 'collector'>,
  around: Surroundings,
): Promise<Outcome> {
  const { name } = (await around.account()).report;
  if (collector === undefined || collector === name) return { passed: true, sentence: `${name} is here.` };
  return { passed: false, sentence: `This is ${name}, not ${collector}. Name the collector that is meant.` };
}

async function firstValue(around: Surroundings): Promise<Outcome> {
  const { spooledSamples, sources } = (await around.account()).report;
  return {
    passed: true,
    sentence: `It reads ${sources.length === 1 ? 'one source' : `${sources.length} sources`}, and ${spooledSamples} values wait with it.`,
  };
}

/** What lies below a node: folders for itself and for each source, or the figures in one. */
function lookInto(node: string | null, account: Account): BrowseAnswer {
  if (node === null) {
    const itsOwn = folder(OWN_FOLDER, account.report.name, 'the collector as a whole');
    const sources = [...account.names].map(([id, name]) => folder(folderOf(id), name, 'a source that it reads'));
    return { nodes: [itsOwn, ...sources], more: false };
  }
  const source = node === OWN_FOLDER ? undefined : Number(FOLDER.exec(node)?.[1]);
  const load = new LoadMeter().look();
  const figures = Object.entries<Figure>(source === undefined ? OWN_FIGURES : SOURCE_FIGURES);
  return { nodes: figures.map(([name, figure]) => nodeOf(name, figure, source, account, load)), more: false };
}

function nodeOf(
  name: string,
  { words, type, unit, states }: Figure,
  source: number | undefined,
  account: Account,
  load: Load,
): BrowsedNode {
  const address: ItselfAddress = {
    figure: name as ItselfAddress['figure'],
    ...(source === undefined ? {} : { source }),
  };
  const { value, status } = figureOf(address, account, load);
  return {
    ...NOTHING,
    node: itselfNode(address),
    name,
    description: words,
    type,
    typeWords: type,
    unit,
    states: states ? Object.fromEntries(states.map((state, number) => [String(number), state])) : null,
    value: value === null ? null : (states?.[Number(value)] ?? String(Math.round(Number(value) * 100) / 100)),
    quality: describeStatus(status),
  };
}

const NOTHING: Omit<BrowsedNode, 'node' | 'name' | 'description'> = {
  hasBelow: false,
  type: null,
  typeWords: '',
  unit: '',
  low: null,
  high: null,
  states: null,
  value: null,
  quality: null,
  elements: [],
  taken: [],
};

const folder = (node: string, name: string, description: string): BrowsedNode => ({
  ...NOTHING,
  node,
  name,
  description,
  hasBelow: true,
});
