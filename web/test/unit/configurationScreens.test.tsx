/**
 * The screens of configuration by themselves: review, versions, logbook.
 * @jest-environment jsdom
 */
import type { LogbookEntry, Review as ReviewAnswer } from '@wide-ledger/contract';
import { cleanup, fireEvent, render, screen, waitFor, within } from '@testing-library/react';
import { DefinitionForm } from '../../src/configuration/form/DefinitionForm.tsx';
import { Review } from '../../src/configuration/Review.tsx';
import { Versions } from '../../src/configuration/Versions.tsx';
import { Logbook } from '../../src/logbook/Logbook.tsx';
import { Refusal, StandInServer, addressNow, roomAt } from './standInServer.tsx';

afterEach(cleanup);

const draft = { id: 3, owner: 'admin', basedOn: 7, changes: 2, undone: 0, createdAt: '', updatedAt: '' };
const reviewOf = (changes: Partial<ReviewAnswer>): ReviewAnswer => ({
  draft,
  inForce: 7,
  effects: ['2 tags: Unit: bar → mbar.'],
  items: [],
  total: 2,
  findings: [],
  conflicts: [],
  ...changes,
});

describe('the review', () => {
  const show = (changes: Partial<ReviewAnswer> | null): StandInServer => {
    const server = new StandInServer();
    server.on('GET /session', () => ({ name: 'admin', scopes: [] }));
    server.on('GET /drafts', () => ({ drafts: changes ? [draft] : [] }));
    server.on('GET /drafts/3', () => reviewOf(changes ?? {}));
    server.on('POST /drafts/3/force', () => ({
      version: 8,
      results: [{ kind: 'tag', id: 1, name: 'TW-PT-102', outcome: 'changed' }],
    }));
    server.on('POST /drafts/3/settle', () => ({ draft }));
    server.on('POST /drafts/3/undo', () => ({ draft }));
    server.on('DELETE /drafts/3', () => null);
    render(<Review />, { wrapper: roomAt('/draft') });
    return server;
  };
  const forceButton = () => screen.findByRole<HTMLButtonElement>('button', { name: 'Put 2 in force' });

  test('says what to do while nothing is in draft', async () => {
    show(null);
    expect(await screen.findByText(/Nothing is in draft/)).toBeTruthy();
    expect(screen.queryByRole('button', { name: /in force/ })).toBeNull();
  });
  test('says what it will do, and puts it in force with the reason; the result is there per item', async () => {
    const server = show({});
    expect(await screen.findByText('2 tags: Unit: bar → mbar.')).toBeTruthy();
    fireEvent.change(screen.getByLabelText('Why'), { target: { value: 'new transmitters' } });
    fireEvent.click(await forceButton());
    await waitFor(() =>
      expect(server.askedBy('POST /drafts/3/force').map(({ body }) => body)).toEqual([{ reason: 'new transmitters' }]),
    );
  });
  test('what has to be mended keeps it from being put in force; what is worth a look does not', async () => {
    const finding = {
      kind: 'tag' as const,
      id: 1,
      name: 'T',
      path: ['name'],
      sentence: 'There is another tag named T.',
    };
    show({ findings: [{ ...finding, severity: 'blocks' }] });
    expect((await screen.findByText('Has to be mended')).parentElement!.textContent).toContain('another tag named T');
    expect((await forceButton()).disabled).toBe(true);
    cleanup();
    show({ findings: [{ ...finding, severity: 'warns' }] });
    await screen.findByText('Worth a look');
    expect((await forceButton()).disabled).toBe(false);
  });
  test('a field that somebody else changed is settled one way or the other', async () => {
    const conflict = {
      kind: 'tag',
      id: 1,
      name: 'T',
      path: ['unit'],
      title: 'Unit',
      base: 'none',
      mine: 'bar',
      theirs: 'mbar',
      by: 'Second',
    } as const;
    const server = show({ conflicts: [{ ...conflict, path: [...conflict.path] }] });
    expect((await screen.findByRole('region', { name: 'Conflicts' })).textContent).toContain(
      'Unit: was none; you have bar, Second put mbar in force.',
    );
    expect((await forceButton()).disabled).toBe(true);
    fireEvent.click(screen.getByRole('button', { name: 'Take theirs: T Unit' }));
    await waitFor(() =>
      expect(server.askedBy('POST /drafts/3/settle').map(({ body }) => body)).toEqual([
        { fields: [{ kind: 'tag', id: 1, path: ['unit'], take: 'theirs' }] },
      ]),
    );
  });
  test('shows the server’s refusal, and keeps the reason that was typed', async () => {
    const server = show({});
    server.on('POST /drafts/3/force', () => new Refusal(409, 'One field was changed by somebody else meanwhile.'));
    fireEvent.change(await screen.findByLabelText('Why'), { target: { value: 'because' } });
    fireEvent.click(await forceButton());
    expect((await screen.findByRole('alert')).textContent).toContain('changed by somebody else');
    expect(screen.getByLabelText<HTMLInputElement>('Why').value).toBe('because');
  });
  test('is discarded only when that was said twice', async () => {
    const server = show({});
    fireEvent.click(await screen.findByRole('button', { name: 'Discard…' }));
    expect(server.askedBy('DELETE /drafts/3')).toEqual([]);
    fireEvent.click(screen.getByRole('button', { name: 'Discard all of it' }));
    await waitFor(() => expect(server.askedBy('DELETE /drafts/3')).toHaveLength(1));
  });
});

describe('versions', () => {
  const show = (address: string): StandInServer => {
    const server = new StandInServer();
    const version = (number: number, reason: string) => ({
      number,
      at: '2026-11-23T10:00:00.000Z',
      by: 'admin',
      reason,
      changes: number,
    });
    server.on('GET /versions', () => ({ versions: [version(9, 'Newest'), version(8, '')] }));
    server.on('GET /versions/compare', () => ({ from: 7, to: 8, items: [], total: 0 }));
    server.on('POST /drafts', () => ({ draft, created: [] }));
    render(<Versions />, { wrapper: roomAt(address) });
    return server;
  };
  test('tell who, when and why, and which is in force', async () => {
    show('/versions');
    expect(await screen.findByText('version 9 is in force')).toBeTruthy();
    const rows = screen.getAllByRole('option').map(({ textContent }) => textContent);
    expect(rows[0]).toContain('Newest');
    expect(rows[1]).toContain('no reason given');
  });
  test('are compared with the one before, or with any other', async () => {
    const server = show('/versions?row=8');
    expect(await screen.findByText('Nothing differs.')).toBeTruthy();
    fireEvent.change(screen.getByLabelText('Compared with'), { target: { value: '5x' } });
    await waitFor(() =>
      expect(server.askedBy('GET /versions/compare').map(({ parameters }) => parameters)).toEqual([
        { to: '8' },
        { from: '5', to: '8' },
      ]),
    );
  });
  test('an earlier one is taken back as a draft, and leads to its review; the newest is in force already', async () => {
    const server = show('/versions?row=8');
    fireEvent.click(await screen.findByRole('button', { name: 'Take it back as a draft' }));
    await waitFor(() => expect(server.askedBy('POST /drafts').map(({ body }) => body)).toEqual([{ version: 8 }]));
    cleanup();
    show('/versions?row=9');
    await screen.findByLabelText('Compared with');
    expect(screen.queryByRole('button', { name: /Take it back/ })).toBeNull();
  });
});

describe('the logbook', () => {
  const entry = (changes: Partial<LogbookEntry>): LogbookEntry => ({
    number: 1,
    at: '2026-11-23T10:00:00.123Z',
    who: 'admin',
    whence: '127.0.0.1',
    act: 'corrected',
    kind: 'tag',
    item: 4,
    name: 'T',
    sentence: '1 value of T: misread',
    old: [{ time: '2026-11-23T09:00:00.000Z', value: 1, status: 0 }],
    new: null,
    version: null,
    hash: 'ab'.repeat(32),
    ...changes,
  });
  const show = (address: string, entries: LogbookEntry[]): StandInServer => {
    const server = new StandInServer();
    server.on('GET /logbook', () => ({ entries }));
    server.on('GET /logbook/check', () => ({
      whole: false,
      checked: 3,
      sentence: 'Entry 4 was altered.',
      brokenAt: 4,
      head: null,
    }));
    render(<Logbook />, { wrapper: roomAt(address) });
    return server;
  };
  test('tells what was done in the window, and looks for words', async () => {
    const server = show('/logbook', [entry({})]);
    expect((await screen.findByRole('option')).textContent).toContain('1 value of T: misread');
    fireEvent.change(screen.getByLabelText(/^Filter by person/), { target: { value: 'misread' } });
    await waitFor(() => expect(server.askedBy('GET /logbook').at(-1)!.parameters.search).toBe('misread'));
    const link = screen.getByRole('link', { name: 'Take away as CSV' });
    expect(link.getAttribute('href')).toContain('search=misread');
  });
  test('an entry tells its old and new values, and of a version leads to its fields', async () => {
    show('/logbook?row=1', [entry({ version: 12, act: 'put in force' })]);
    const leaf = await screen.findByTestId('leaf');
    expect(leaf.textContent).toContain('value 1');
    expect(leaf.textContent).toContain('127.0.0.1');
    fireEvent.click(within(leaf).getByRole('button', { name: 'Field by field' }));
    expect(new URLSearchParams(addressNow.search).get('row')).toBe('12');
  });
  test('its check says what is wrong', async () => {
    show('/logbook', []);
    fireEvent.click(await screen.findByRole('button', { name: 'Check it' }));
    expect((await screen.findByText(/Entry 4 was altered/)).getAttribute('role')).toBe('status');
    expect(screen.getByText(/Nobody did anything in this window/)).toBeTruthy();
  });
});

describe('the form of a source', () => {
  const connection = { host: '10.0.0.1', port: 502, unit: 3 };
  const show = (body: object): StandInServer => {
    const server = new StandInServer();
    server.on('GET /definitions', () => ({ definitions: [] }));
    server.on('GET /desk', () => ({ collectors: [] }));
    server.on('POST /drafts', () => ({ draft, conflicts: [] }));
    const whole = { name: 'S', kind: 'modbus-tcp', connection, ...body };
    const standing = { kind: 'source', id: 4, inForce: whole, body: whole, life: 'in force' } as const;
    render(<DefinitionForm standings={[standing]} />, { wrapper: roomAt('/sources') });
    return server;
  };

  const whenToChange = () => screen.queryByLabelText(/^Second way after/);
  test('asks when to change over only where there is a second way, and no standby that has it', () => {
    show({});
    expect(whenToChange()).toBeNull();
    cleanup();
    show({ standby: 'b', standbyConnection: connection });
    expect(whenToChange()).toBeNull();
    cleanup();
    show({ standbyConnection: connection });
    expect(whenToChange()).not.toBeNull();
  });
  test('a second way begins as a copy of the first', async () => {
    const server = show({ collector: 'a', standby: 'b' });
    fireEvent.click(screen.getByLabelText('Second way'));
    await waitFor(() => expect(server.asked.some(({ body }) => body !== undefined)).toBe(true));
    const [edit] = server.asked.flatMap(({ body }) => (body === undefined ? [] : [body]));
    expect(edit).toMatchObject({ changes: [{ kind: 'source', id: 4, set: { standbyConnection: connection } }] });
  });
});
