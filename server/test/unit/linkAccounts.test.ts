/** How links stand, as figures that can be kept as tags. */
import { ARRIVAL_FIGURES, LINK_FIGURES, type ArrivingLink, type SendingLink } from '@wide-ledger/contract';
import { accountsOf } from '../../src/exchange/links/accounts.ts';

const sending = (over: Partial<SendingLink>) =>
  ({
    id: 1,
    name: 'Region',
    state: 'level',
    waiting: 0,
    lagSeconds: null,
    valuesPerSecond: 5,
    bytesPerSecond: 9,
    setAside: 2,
    ...over,
  }) as SendingLink;
const arriving = (over: Partial<ArrivingLink>) =>
  ({ id: 1, name: 'North', state: 'silent', contactAt: null, samples: 7, setAside: 0, ...over }) as ArrivingLink;

test('every figure of a link has its name in the contract, and every state its number', async () => {
  for (const [number, state] of LINK_FIGURES.state.states.entries()) {
    const lists = { list: () => Promise.resolve([sending({ state })]) };
    const [link] = await accountsOf(lists, { list: () => Promise.resolve([]) });
    expect(link).toMatchObject({ kind: 'link', id: 1, name: 'Region' });
    expect(Object.keys(link!.figures)).toEqual(Object.keys(LINK_FIGURES));
    expect(link!.figures).toMatchObject({ state: number, lag: 0, 'set-aside': 2 });
  }
  for (const [number, state] of ARRIVAL_FIGURES.state.states.entries()) {
    const lists = { list: () => Promise.resolve([arriving({ state })]) };
    const [link] = await accountsOf({ list: () => Promise.resolve([]) }, lists);
    expect(Object.keys(link!.figures)).toEqual(Object.keys(ARRIVAL_FIGURES));
    expect(link!.figures).toMatchObject({ state: number, silence: null, received: 7 });
  }
});
