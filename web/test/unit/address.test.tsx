/**
 * What the address holds: the view of Traces, and the chosen row of a list.
 * @jest-environment jsdom
 */
import { act, fireEvent, renderHook, waitFor } from '@testing-library/react';
import { useSelection } from '../../src/frame/useSelection.ts';
import { drawnWith, useTraceView } from '../../src/traces/useTraceView.ts';
import { StandInServer, addressNow, roomAt } from './standInServer.tsx';

describe('the view of Traces', () => {
  const viewAt = (address: string) => renderHook(() => useTraceView(), { wrapper: roomAt(address) }).result;

  test('is the site’s first tag with its defaults where the address says nothing', async () => {
    const server = new StandInServer();
    server.on('GET /tags', () => ({ tags: [{ id: 1, name: 'First' }] }));
    const result = viewAt('/traces');
    await waitFor(() => expect(result.current[0].names).toEqual(['First']));
    expect(result.current[0]).toMatchObject({
      read: 'processed',
      aggregates: ['TimeAverage', 'Maximum'],
      interval: 'PT1H',
      cursors: null,
      cycle: 0,
    });
  });

  test('is read from the address, and what the address has wrong falls back', () => {
    new StandInServer();
    const names = Array.from({ length: 10 }, (_, i) => `T${i}`);
    expect(viewAt(`/traces?tags=${names.join(',')},,`).current[0].names).toEqual(names.slice(0, 8));
    expect(viewAt('/traces?tags=A&below=nothing&agg=Count,Guess&cursors=1,x').current[0]).toMatchObject({
      read: 'processed',
      aggregates: ['Count'],
      cursors: null,
    });
    expect(
      viewAt('/traces?tags=A&below=raw&cursors=5,9&drawn=A:held,B:sloped&label=end&log=1').current[0],
    ).toMatchObject({
      read: 'raw',
      cursors: [5, 9],
      labelAtEnd: true,
      logarithmic: true,
      stepped: new Map([
        ['A', true],
        ['B', false],
      ]),
    });
  });

  test('changes in the address and nowhere else', () => {
    new StandInServer();
    const result = viewAt('/traces?tags=A&last=3600&log=1');
    act(() => result.current[1]({ log: null, below: 'raw' }));
    expect(result.current[0]).toMatchObject({ logarithmic: false, read: 'raw', names: ['A'] });
    expect(Object.fromEntries(new URLSearchParams(addressNow.search))).toEqual({
      tags: 'A',
      last: '3600',
      below: 'raw',
    });
  });

  test('keeps how each tag is drawn, the changed one changed', () => {
    new StandInServer();
    const [view] = viewAt('/traces?tags=A,B&drawn=A:held,B:held').current;
    expect(drawnWith(view, 'B', false)).toBe('A:held,B:sloped');
    expect(drawnWith(view, 'C', true)).toBe('A:held,B:held,C:held');
  });
});

describe('the chosen row', () => {
  const rows = ['a', 'b', 'c'];
  const chosen = (address: string) => renderHook(() => useSelection(rows), { wrapper: roomAt(address) }).result;
  const press = (key: string, target: EventTarget = document.body): void => {
    act(() => void fireEvent.keyDown(target as Element, { key }));
  };

  test('goes up and down by the arrows, stays at the ends, and goes by Escape', () => {
    const result = chosen('/tags?last=60');
    press('ArrowDown');
    expect(result.current.selected).toBe('a');
    press('ArrowUp');
    expect(result.current.selected).toBe('a');
    for (const _ of rows) press('ArrowDown');
    expect(result.current.selected).toBe('c');
    expect(addressNow.search).toBe('?last=60&row=c');
    press('Escape');
    expect([result.current.selected, addressNow.search]).toEqual([null, '?last=60']);
  });

  test('a row that is no longer listed gives way to the first', () => {
    const result = chosen('/tags?row=gone');
    press('ArrowDown');
    expect(result.current.selected).toBe('a');
  });

  test('keys in a field, a slider or a dialogue are theirs', () => {
    const result = chosen('/tags?row=b');
    for (const markup of ['<input>', '<div role="slider"></div>', '<div role="dialog"><p></p></div>']) {
      document.body.insertAdjacentHTML('beforeend', markup);
      const field = document.body.lastElementChild!;
      press('ArrowDown', field.querySelector('p') ?? field);
      press('Escape', field.querySelector('p') ?? field);
      field.remove();
    }
    expect(result.current.selected).toBe('b');
  });
});
