/** A collector as a source of its own: asked at intervals, never away while it runs, without a past of its own. */
import {
  FIGURES_OF,
  itselfNode,
  ownerOf,
  type BrowseAnswer,
  type BrowsedNode,
  type Figure,
  type ItselfAddress,
} from '@wide-ledger/contract';
import { describeStatus } from '@wide-ledger/core';
import type { Account } from '../../account/account.ts';
import { walk, type Outcome } from '../../connection/pathWalk.ts';
import type { Kind, PolledSession, SourceOf, Surroundings } from '../kind.ts';
import { NO_VALUE, folder } from '../nodes.ts';
import type { Load } from './figures.ts';
import { ItselfSession, LoadMeter, figureOf } from './session.ts';

/** The nodes below which its own figures lie, and those of a source. */
const OWN_FOLDER = 'collector';
const FOLDER = /^(source|link|arrival) (\d+)$/;

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

/** What lies below a node: folders for itself, each source and each link, or the figures in one. */
function lookInto(node: string | null, account: Account): BrowseAnswer {
  if (node === null) {
    const itsOwn = folder(OWN_FOLDER, account.report.name, 'the collector as a whole');
    const sources = [...account.names].map(([id, name]) => folder(`source ${id}`, name, 'a source that it reads'));
    const links = (account.server?.links ?? []).map(({ kind, id, name }) =>
      folder(
        `${kind} ${id}`,
        name,
        kind === 'link' ? 'a link that leaves the site' : 'a link that arrives at the site',
      ),
    );
    return { nodes: [itsOwn, ...sources, ...links], more: false };
  }
  const [, owner, number] = FOLDER.exec(node) ?? [];
  const of = owner === undefined ? {} : { [owner]: Number(number) };
  const load = new LoadMeter().look();
  const figures = Object.entries<Figure>(FIGURES_OF[ownerOf(of)]);
  const addressOf = (figure: string): ItselfAddress => ({ ...of, figure: figure as ItselfAddress['figure'] });
  return { nodes: figures.map(([name, figure]) => nodeOf(addressOf(name), figure, account, load)), more: false };
}

function nodeOf(
  address: ItselfAddress,
  { words, type, unit, states }: Figure,
  account: Account,
  load: Load,
): BrowsedNode {
  const { value, status } = figureOf(address, account, load);
  return {
    ...NO_VALUE,
    node: itselfNode(address),
    hasBelow: false,
    name: address.figure,
    description: words,
    type,
    typeWords: type,
    unit,
    states: states ? Object.fromEntries(states.map((state, number) => [String(number), state])) : null,
    value: value === null ? null : (states?.[Number(value)] ?? String(Math.round(Number(value) * 100) / 100)),
    quality: describeStatus(status),
  };
}
