/**
 * The rail marks the screen that is open, and the one that a further screen belongs to.
 * @jest-environment jsdom
 */
import { cleanup, render, screen } from '@testing-library/react';
import { Rail } from '../../src/frame/Rail.tsx';
import { StandInServer, roomAt } from './standInServer.tsx';

afterEach(cleanup);

/** What is marked at an address, and how. */
function markedAt(address: string): (string | null)[][] {
  const server = new StandInServer();
  server.on('GET /desk', () => ({ concerns: [] }));
  server.on('GET /session', () => ({ name: 'admin' }));
  render(<Rail />, { wrapper: roomAt(address) });
  const marked = screen.getAllByRole('link').filter((link) => link.hasAttribute('aria-current'));
  const found = marked.map((link) => [link.textContent, link.getAttribute('aria-current')]);
  cleanup();
  return found;
}

test('a screen of the rail is the page, a further one lies within', () => {
  expect(markedAt('/tags?last=300')).toEqual([['Tags', 'page']]);
  expect(markedAt('/')).toEqual([['Desk', 'page']]);
  for (const [address, name] of [
    ['/sheet', 'Tags'],
    ['/place?place=Wells', 'Tags'],
    ['/doubts', 'Coverage'],
    ['/take?source=1', 'Sources'],
  ] as const)
    expect(markedAt(address)).toEqual([[name, 'true']]);
  expect(markedAt('/draft')).toEqual([]);
});
