/**
 * What the screens ask the server: once, in pages, and without emptying what is shown.
 * @jest-environment jsdom
 */
import type { EnvelopeAnswer, RawAnswer } from '@wide-ledger/contract';
import { act, renderHook, waitFor } from '@testing-library/react';
import {
  useAtTimes,
  useEnvelopes,
  useFirstTag,
  useRaw,
  useRetentionPreview,
  useSiteZone,
  useTags,
  useTagsNamed,
} from '../../src/server/queries.ts';
import { hold } from '../../src/window/windowStore.ts';
import { StandInServer, roomAt } from './standInServer.tsx';

const tagNamed = (name: string) => ({ id: name.length, name });

test('tags come page by page, each with the mark of the one before', async () => {
  const server = new StandInServer();
  server.on('GET /tags', ({ parameters }) =>
    parameters.cursor === undefined ? { tags: [tagNamed('A')], next: 'after A' } : { tags: [tagNamed('B')] },
  );
  const { result } = renderHook(() => useTags('pump'), { wrapper: roomAt('/') });
  await waitFor(() => expect(result.current.hasNextPage).toBe(true));
  await act(() => result.current.fetchNextPage());
  await waitFor(() =>
    expect(result.current.data?.pages.flatMap(({ tags }) => tags.map(({ name }) => name))).toEqual(['A', 'B']),
  );
  expect(result.current.hasNextPage).toBe(false);
  expect(server.askedBy('GET /tags').map(({ parameters }) => parameters)).toEqual([
    { search: 'pump', limit: '200' },
    { search: 'pump', limit: '200', cursor: 'after A' },
  ]);
});

test('the first tag is asked for only where it is wanted', async () => {
  const server = new StandInServer();
  server.on('GET /tags', () => ({ tags: [tagNamed('First')] }));
  const idle = renderHook(() => useFirstTag(false), { wrapper: roomAt('/') });
  expect(idle.result.current).toBeNull();
  expect(server.asked).toEqual([]);
  const asked = renderHook(() => useFirstTag(true), { wrapper: roomAt('/') });
  await waitFor(() => expect(asked.result.current).toBe('First'));
});

test('tags are known by names that need escaping, and those that are missing leave the others', async () => {
  const server = new StandInServer();
  server.on('GET /tags/A%2FB', () => tagNamed('A/B'));
  const { result } = renderHook(() => useTagsNamed(['A/B', 'Gone']), { wrapper: roomAt('/') });
  await waitFor(() => expect(server.asked).toHaveLength(2));
  await waitFor(() => expect(result.current.map(({ name }) => name)).toEqual(['A/B']));
});

const envelopeOf = (tag: string, first: number): EnvelopeAnswer => ({
  tag,
  from: 0,
  to: 1,
  samples: 1,
  times: [first],
  values: [first],
  gaps: [],
});

test('a chart goes on showing the last answer of its own tag until the next one is there', async () => {
  hold(0, 60_000);
  const server = new StandInServer();
  const waiting: (() => void)[] = [];
  let hurried = true;
  server.on('GET /history/envelope', async ({ parameters }) => {
    if (!hurried) await new Promise<void>((done) => waiting.push(done));
    return envelopeOf(parameters.tag!, Date.parse(parameters.from!));
  });
  const { result } = renderHook(() => useEnvelopes(['A', 'B'], 100, 0), { wrapper: roomAt('/') });
  await waitFor(() => expect(result.current.map(({ data }) => data?.values)).toEqual([[0], [0]]));
  hurried = false;
  act(() => hold(60_000, 120_000));
  await waitFor(() => expect(waiting).toHaveLength(2));
  expect(result.current.map(({ data, isPlaceholderData }) => [data?.tag, data?.values, isPlaceholderData])).toEqual([
    ['A', [0], true],
    ['B', [0], true],
  ]);
  waiting.forEach((done) => done());
  await waitFor(() => expect(result.current.map(({ data }) => data?.values)).toEqual([[60_000], [60_000]]));
});

test('raw values are asked for newest first, by the edges of the window', async () => {
  hold(0, 60_000);
  const server = new StandInServer();
  server.on('GET /history/raw', (): Partial<RawAnswer> => ({ samples: [] }));
  const { result } = renderHook(() => useRaw('A', 0), { wrapper: roomAt('/') });
  await waitFor(() => expect(result.current.isSuccess).toBe(true));
  expect(server.asked[0]!.parameters).toEqual({
    tag: 'A',
    from: '1970-01-01T00:00:00.000Z',
    to: '1970-01-01T00:01:00.000Z',
    order: 'newest',
    limit: '2000',
  });
});

test('what nobody has said yet is not asked for', () => {
  const server = new StandInServer();
  renderHook(() => [useAtTimes('A', []), useRetentionPreview(1, null)], { wrapper: roomAt('/') });
  expect(server.asked).toEqual([]);
});

test('the site’s zone is waited for, and asked once', async () => {
  const server = new StandInServer();
  server.on('GET /desk', () => ({ zone: 'Europe/Berlin' }));
  const { result } = renderHook(() => useSiteZone(), { wrapper: roomAt('/') });
  expect([await result.current(), await result.current()]).toEqual(['Europe/Berlin', 'Europe/Berlin']);
  expect(server.asked).toHaveLength(1);
});
