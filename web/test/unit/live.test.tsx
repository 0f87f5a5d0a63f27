/**
 * Current values as they come.
 * @jest-environment jsdom
 */
import { jest } from '@jest/globals';
import { act, renderHook } from '@testing-library/react';
import { useFollow, useLive, useLiveSample } from '../../src/server/live.ts';

class StandInEvents {
  static readonly opened: StandInEvents[] = [];
  onopen: (() => void) | null = null;
  onerror: (() => void) | null = null;
  onmessage: ((event: { data: string }) => void) | null = null;
  closed = false;
  constructor(readonly url: string) {
    StandInEvents.opened.push(this);
  }
  close(): void {
    this.closed = true;
  }
}
beforeEach(() => {
  jest.useFakeTimers();
  StandInEvents.opened.length = 0;
  Object.assign(globalThis, { EventSource: StandInEvents });
  useLive.setState({ samples: new Map(), connected: true });
});
afterEach(() => {
  jest.useRealTimers();
});

test('one stream follows the tags on screen, whatever their order, and is opened anew once a scrolled list rests', () => {
  const { rerender, unmount } = renderHook(({ tags }) => useFollow(tags), { initialProps: { tags: [3, 1, 20] } });
  expect(StandInEvents.opened.map(({ url }) => url)).toEqual(['/api/v1/live?tags=1,3,20']);
  rerender({ tags: [20, 3, 1] });
  act(() => jest.advanceTimersByTime(1000));
  expect(StandInEvents.opened).toHaveLength(1);
  for (const first of [4, 5, 6]) {
    rerender({ tags: [first] });
    act(() => jest.advanceTimersByTime(100));
  }
  expect(StandInEvents.opened).toHaveLength(1);
  act(() => jest.advanceTimersByTime(200));
  expect(StandInEvents.opened.map(({ url, closed }) => [url, closed])).toEqual([
    ['/api/v1/live?tags=1,3,20', true],
    ['/api/v1/live?tags=6', false],
  ]);
  unmount();
  expect(StandInEvents.opened[1]!.closed).toBe(true);
});

test('nothing on screen opens no stream', () => {
  renderHook(() => useFollow([]));
  expect(StandInEvents.opened).toEqual([]);
});

test('a tag’s latest sample takes the place of the one before; the others stay', () => {
  const { result } = renderHook(() => {
    useFollow([1, 2]);
    return [useLiveSample(1), useLiveSample(2), useLiveSample(3)];
  });
  const send = (...samples: object[]): void =>
    act(() => StandInEvents.opened[0]!.onmessage!({ data: JSON.stringify(samples) }));
  send({ tag: 1, value: 10 }, { tag: 2, value: 20 });
  send({ tag: 1, value: 11 });
  expect(result.current).toMatchObject([{ value: 11 }, { value: 20 }, undefined]);
});

test('a stream that is lost is said, and found again', () => {
  renderHook(() => useFollow([1]));
  act(() => StandInEvents.opened[0]!.onerror!());
  expect(useLive.getState().connected).toBe(false);
  act(() => StandInEvents.opened[0]!.onopen!());
  expect(useLive.getState().connected).toBe(true);
});
