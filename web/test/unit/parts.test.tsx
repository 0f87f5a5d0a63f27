/**
 * Parts of screens by themselves: the quarantine's decisions, a file's columns, failures, the list that is scrolled on.
 * @jest-environment jsdom
 */
import { jest } from '@jest/globals';
import type { ImportedFile, QuarantinedEntry } from '@wide-ledger/contract';
import { cleanup, fireEvent, render, renderHook, screen, waitFor } from '@testing-library/react';
import { useMoreAt } from '../../src/controls/useMoreAt.ts';
import { Failure } from '../../src/controls/States.tsx';
import { QuarantineList } from '../../src/desk/QuarantineList.tsx';
import { ColumnTable } from '../../src/files/ColumnTable.tsx';
import { retentionWords } from '../../src/stores/retentionWords.ts';
import { CallFailed } from '../../src/server/calls.ts';
import { Refusal, StandInServer, roomAt } from './standInServer.tsx';

afterEach(cleanup);

const entry: QuarantinedEntry = {
  id: 7,
  entry: 1204,
  store: 'Embedded',
  writer: 'line',
  receivedAt: '2026-11-23T09:59:58.000Z',
  at: '2026-11-23T10:00:00.000Z',
  samples: 12_500,
  tags: ['TM-FT-01', 'TM-FT-02', 'TM-FT-03'],
  from: '2026-11-23T09:00:00.000Z',
  to: '2026-11-23T09:30:00.000Z',
  failure: 'The block could not be written.',
};

describe('the quarantine', () => {
  const show = (): StandInServer => {
    const server = new StandInServer();
    render(<QuarantineList entries={[entry]} />, { wrapper: roomAt('/') });
    return server;
  };
  test('says how much of what waits and why, and takes the decision of a person', async () => {
    const server = show();
    server.on('POST /quarantine/7', () => null);
    const text = screen.getByRole('listitem').textContent;
    expect(text).toContain('12\u2009500 values of TM-FT-01 and 2 more, 23 Nov 09:00 – 09:30, from line');
    expect(text).toContain('The block could not be written.');
    fireEvent.click(screen.getByRole('button', { name: 'Post entry 1204 again' }));
    await waitFor(() =>
      expect(server.askedBy('POST /quarantine/7').map(({ body }) => body)).toEqual([{ decision: 'post again' }]),
    );
    await waitFor(() => expect(screen.getByRole<HTMLButtonElement>('button', { name: /aside/ }).disabled).toBe(false));
    fireEvent.click(screen.getByRole('button', { name: 'Set the values of entry 1204 aside' }));
    await waitFor(() => expect(server.asked.at(-1)!.body).toEqual({ decision: 'set aside' }));
  });
  test('shows the server’s refusal where it was asked', async () => {
    const server = show();
    server.on('POST /quarantine/7', () => new Refusal(409, 'Somebody has decided already.', 'DECIDED'));
    fireEvent.click(screen.getByRole('button', { name: 'Post entry 1204 again' }));
    expect((await screen.findByRole('alert')).textContent).toBe('Somebody has decided already. DECIDED');
  });
  test('is not there while nothing is in it', () => {
    new StandInServer();
    const { container } = render(<QuarantineList entries={[]} />, { wrapper: roomAt('/') });
    expect(container.textContent).toBe('');
  });
});

describe('a file’s columns', () => {
  type Column = ImportedFile['columns'][number];
  const column = (changes: Partial<Column>): Column => ({
    name: 'C',
    role: 'ignored',
    examples: [],
    sentence: '',
    doubtful: false,
    ...changes,
  });
  const show = (changes: Partial<Column>): Partial<Column>[] => {
    const server = new StandInServer();
    server.on('GET /tags', () => ({ tags: [] }));
    const changed: Partial<Column>[] = [];
    render(<ColumnTable columns={[column(changes)]} onChange={(_, change) => changed.push(change)} />, {
      wrapper: roomAt('/files'),
    });
    return changed;
  };
  const choose = (label: string, value: string): void => {
    fireEvent.change(screen.getByLabelText(label), { target: { value } });
  };
  test('hold what a person says', () => {
    const changed = show({});
    expect(screen.queryByLabelText('Tag of C')).toBeNull();
    choose('What C holds', 'value');
    expect(changed).toEqual([{ role: 'value' }]);
  });
  test('of times are read by an order, and the hour that the clock shows twice by what is said of it', () => {
    const changed = show({ role: 'time', time: { kind: 'clock', order: 'undecided' } });
    choose('How C is read', 'dmy');
    choose('The doubled hour of C', 'second');
    expect(changed).toEqual([
      { time: { kind: 'clock', order: 'dmy' } },
      { time: { kind: 'clock', order: 'undecided', doubled: 'second' } },
    ]);
  });
  test('of instants have no doubled hour', () => {
    show({ role: 'time', time: { kind: 'instant' } });
    expect(screen.queryByLabelText('The doubled hour of C')).toBeNull();
  });
  test('of values have a tag and a decimal mark; an emptied tag is none', () => {
    const changed = show({ role: 'value', tag: 'A', decimal: 'undecided' });
    expect(screen.getByLabelText<HTMLSelectElement>('Decimal mark of C').value).toBe('undecided');
    choose('Decimal mark of C', 'comma');
    choose('Tag of C', '');
    expect(changed).toEqual([{ decimal: 'comma' }, { tag: null }]);
  });
  test('of qualities are read as status, byte, or not yet', () => {
    const changed = show({ role: 'quality', quality: 'undecided' });
    choose('Qualities of C', 'byte');
    expect(changed).toEqual([{ quality: 'byte' }]);
  });
});

test.each([
  [new CallFailed(404, 'There is no tag A.', 'NO_TAG'), 'There is no tag A. NO_TAG'],
  [new CallFailed(502, 'The server answered 502.', null), 'The server answered 502. 502'],
  [new Error('It broke.'), 'It broke. '],
])('a failure is its sentence, with the code behind it', (error, text) => {
  render(<Failure error={error} />);
  expect(screen.getByRole('alert').textContent).toBe(text);
});

test('a list fetches its next page before its end is reached, once, and not beyond the last', () => {
  const fetchNextPage = jest.fn(() => Promise.resolve());
  const { rerender } = renderHook(
    ({ last, hasNextPage, isFetchingNextPage }) =>
      useMoreAt(last, 200, { hasNextPage, isFetchingNextPage, fetchNextPage }),
    { initialProps: { last: 139, hasNextPage: true, isFetchingNextPage: false } },
  );
  expect(fetchNextPage).not.toHaveBeenCalled();
  rerender({ last: 141, hasNextPage: true, isFetchingNextPage: false });
  expect(fetchNextPage).toHaveBeenCalledTimes(1);
  rerender({ last: 150, hasNextPage: true, isFetchingNextPage: true });
  rerender({ last: 199, hasNextPage: false, isFetchingNextPage: false });
  expect(fetchNextPage).toHaveBeenCalledTimes(1);
});

test('a retention reads as a sentence', () => {
  expect([null, 1, 13].map(retentionWords)).toEqual(['everything is kept', '1 month is kept', '13 months are kept']);
});
