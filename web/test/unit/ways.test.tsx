/**
 * What was changed of a tag, here and elsewhere; changing over between two ways to a source.
 * @jest-environment jsdom
 */
import type { SourceState, TagChanges as Answer } from '@wide-ledger/contract';
import { cleanup, fireEvent, render, screen, waitFor } from '@testing-library/react';
import { Ways } from '../../src/sources/Ways.tsx';
import { TagChanges } from '../../src/tags/TagChanges.tsx';
import { useWindowState } from '../../src/window/windowStore.ts';
import { Refusal, StandInServer, roomAt } from './standInServer.tsx';

beforeEach(() => useWindowState.setState({ siteZone: 'Europe/Berlin', otherZone: null }));
afterEach(cleanup);

const change = (i: number, site: string | null): Answer['changes'][number] => ({
  at: `2026-11-${10 + i}T08:00:00Z`,
  by: 'ada',
  site,
  reason: `reason ${i}`,
  fields: [{ title: 'High', from: '', to: String(i) }],
});

test('changes are told with who, where and why, a few at first', async () => {
  const server = new StandInServer();
  const changes = Array.from({ length: 8 }, (_, i) => change(i, i === 0 ? 'Thornmere' : null));
  server.on('GET /tags/A%2F1/changes', () => ({ changes }));
  render(<TagChanges tag="A/1" />, { wrapper: roomAt('/tags') });
  const items = await screen.findAllByRole('listitem');
  expect(items).toHaveLength(5);
  expect(items[0]!.textContent).toMatch(/ada · at Thornmere.*reason 0.*High: none → 0/);
  expect(items[1]!.textContent).not.toContain(' · at ');
  fireEvent.click(screen.getByRole('button', { name: 'Show 3 more of 8' }));
  expect(screen.getAllByRole('listitem')).toHaveLength(8);
  expect(screen.queryByRole('button')).toBeNull();
});

test('a tag of which nothing was changed says nothing of it', async () => {
  const server = new StandInServer();
  server.on('GET /tags/B/changes', () => ({ changes: [] }));
  const { container } = render(<TagChanges tag="B" />, { wrapper: roomAt('/tags') });
  await waitFor(() => expect(server.asked).toHaveLength(1));
  expect(container.textContent).toBe('');
});

describe('the ways of a source', () => {
  const state = (way: number | null) => ({ way }) as SourceState;
  test('the other one is taken by hand, and what was done is said', async () => {
    const server = new StandInServer();
    server.on('POST /sources/4/way', () => ({ sentence: 'S is read by way 2: there.' }));
    render(<Ways id={4} state={state(1)} />, { wrapper: roomAt('/sources') });
    fireEvent.click(screen.getByRole('button', { name: 'Read by the second way' }));
    await screen.findByText('S is read by way 2: there.');
    expect(server.askedBy('POST /sources/4/way')[0]!.body).toEqual({ way: 2 });
  });
  test('one that leads nowhere is said to, and from the second it goes back to the first', async () => {
    const server = new StandInServer();
    server.on('POST /sources/4/way', () => new Refusal(502, 'Nothing answers on 10.0.0.1:502.'));
    render(<Ways id={4} state={state(2)} />, { wrapper: roomAt('/sources') });
    fireEvent.click(screen.getByRole('button', { name: 'Read by the first way' }));
    await screen.findByText(/Nothing answers on 10\.0\.0\.1:502/);
  });
  test('where there is one way there is nothing to choose', () => {
    const { container } = render(<Ways id={4} state={state(null)} />, { wrapper: roomAt('/sources') });
    expect(container.textContent).toBe('');
  });
});
