/** How links stand, as figures that can be kept as tags: by the names that the contract gives them. */
import {
  ARRIVAL_FIGURES,
  LINK_FIGURES,
  type ArrivalFigure,
  type ArrivingLink,
  type LinkAccount,
  type LinkFigure,
  type SendingLink,
} from '@wide-ledger/contract';
import type { Arrivals } from '../arrivals/arrivals.ts';
import type { Links } from './links.ts';

/** How all of them stand. */
export async function accountsOf(
  links: Pick<Links, 'list'>,
  arrivals: Pick<Arrivals, 'list'>,
): Promise<readonly LinkAccount[]> {
  const [sending, arriving] = await Promise.all([links.list(), arrivals.list()]);
  return [
    ...sending.map((link) => ({ kind: 'link' as const, id: link.id, name: link.name, figures: ofSending(link) })),
    ...arriving.map((link) => ({ kind: 'arrival' as const, id: link.id, name: link.name, figures: ofArriving(link) })),
  ];
}

const ofSending = (link: SendingLink): Record<LinkFigure, number | null> => ({
  state: LINK_FIGURES.state.states.indexOf(link.state),
  waiting: link.waiting,
  lag: link.lagSeconds ?? 0,
  values: link.valuesPerSecond,
  bytes: link.bytesPerSecond,
  'set-aside': link.setAside,
});

const ofArriving = ({ state, contactAt, samples, setAside }: ArrivingLink): Record<ArrivalFigure, number | null> => ({
  state: ARRIVAL_FIGURES.state.states.indexOf(state),
  silence: contactAt === null ? null : Math.max(0, (Date.now() - Date.parse(contactAt)) / 1000),
  received: samples,
  'set-aside': setAside,
});
