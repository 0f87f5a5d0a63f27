/**
 * A screen that was loaded ahead is there with the first drawing; one that was not is waited for.
 * @jest-environment jsdom
 */
import { render, screen } from '@testing-library/react';
import { loadedAhead } from '../../src/frame/loadedAhead.tsx';

const Large = () => <h1>Large</h1>;

test('what is there is drawn at once, without a boundary that waits', async () => {
  const { Screen, loadAhead } = loadedAhead(() => Promise.resolve(Large));
  loadAhead();
  await Promise.resolve();
  await Promise.resolve();
  const { unmount } = render(<Screen />);
  // Not found later: it is there now.
  expect(screen.queryByRole('heading')?.textContent).toBe('Large');
  unmount();
});

test('what is not there yet is said to be on its way, and comes; loading it again asks for nothing', async () => {
  let asked = 0;
  const { Screen, loadAhead } = loadedAhead(() => {
    asked++;
    return Promise.resolve(Large);
  });
  const { container } = render(<Screen />);
  expect(container.querySelector('[aria-busy]')).not.toBeNull();
  await screen.findByRole('heading');
  loadAhead();
  expect(asked).toBe(1);
});
