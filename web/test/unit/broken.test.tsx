/**
 * A screen that fails says so, and leaves the frame standing.
 * @jest-environment jsdom
 */
import { jest } from '@jest/globals';
import { cleanup, render, screen } from '@testing-library/react';
import { Link, Outlet, RouterProvider, createMemoryRouter } from 'react-router';
import { Broken } from '../../src/frame/Broken.tsx';

afterEach(cleanup);

function Failing(): never {
  throw new TypeError('nothing has no names');
}

test('what failed is told in place of the screen; the frame with its ways to the others stands', async () => {
  const complaints = jest.spyOn(console, 'error').mockImplementation(() => undefined);
  const router = createMemoryRouter([
    {
      element: (
        <>
          <Link to="/other">Others</Link>
          <Outlet />
        </>
      ),
      children: [
        {
          errorElement: <Broken />,
          children: [{ path: '/', element: <Failing /> }],
        },
      ],
    },
  ]);
  render(<RouterProvider router={router} />);
  const alert = await screen.findByRole('alert');
  expect(alert.textContent).toContain('Nothing was lost');
  expect(alert.textContent).toContain('nothing has no names');
  expect(document.activeElement).toBe(alert);
  expect(screen.getByText('Others').getAttribute('href')).toBe('/other');
  expect(complaints).toHaveBeenCalled();
  complaints.mockRestore();
});
