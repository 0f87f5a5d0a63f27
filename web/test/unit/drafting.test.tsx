/**
 * Editing definitions: what several share, what an edit makes of each, and the form that is drawn from the schema.
 * @jest-environment jsdom
 */
import fc from 'fast-check';
import { applyDiff, samePlain, type Body } from '@wide-ledger/core';
import { cleanup, fireEvent, render, screen, waitFor } from '@testing-library/react';
import { DraftBar } from '../../src/configuration/DraftBar.tsx';
import { lifeOf } from '../../src/configuration/Life.tsx';
import type { Standing } from '../../src/configuration/drafting.ts';
import { EditPanel } from '../../src/configuration/EditPanel.tsx';
import { pathOf } from '../../src/configuration/form/DefinitionForm.tsx';
import { fieldState, setField } from '../../src/configuration/form/values.ts';
import { typedNumber } from '../../src/controls/typedNumber.ts';
import { StandInServer, roomAt } from './standInServer.tsx';

afterEach(cleanup);

const standing = (id: number, body: Body | null, inForce: Body | null = body): Standing => ({
  kind: 'tag',
  id,
  body,
  inForce,
  life: 'in force',
});

describe('a field', () => {
  test('is what all share, differs where they do not, and says what is in force beside the draft', () => {
    const [a, b] = [standing(1, { unit: 'bar', low: 0 }), standing(2, { unit: 'bar', low: 1 })];
    expect(fieldState([a, b], ['unit'])).toEqual({ value: 'bar', differs: false, inForce: undefined });
    expect(fieldState([a, b], ['low'])).toMatchObject({ value: undefined, differs: true });
    const drafted = standing(1, { unit: 'mbar' }, { unit: 'bar' });
    expect(fieldState([drafted], ['unit'])).toMatchObject({ value: 'mbar', inForce: { value: 'bar' } });
    expect(fieldState([drafted], ['low']).inForce).toBeUndefined();
  });
  test('is set in each that has it otherwise, and leaves the other fields of its object alone', () => {
    const rows = [
      standing(1, { settings: { intervalMilliseconds: 1000, aligned: true } }),
      standing(2, { settings: { intervalMilliseconds: 5000 } }),
      standing(3, null),
    ];
    expect(setField(rows, ['settings', 'intervalMilliseconds'], 5000)).toEqual([
      { kind: 'tag', id: 1, set: { settings: { intervalMilliseconds: 5000, aligned: true } } },
    ]);
  });
  test('that is set makes of each body what was asked, whatever stands in it', () => {
    const leaf = fc.oneof(fc.constant(null), fc.integer(), fc.string({ maxLength: 3 }));
    const body = fc.record({ settings: fc.dictionary(fc.constantFrom('a', 'b'), leaf, { maxKeys: 2 }), unit: leaf });
    fc.assert(
      fc.property(body, leaf, (before, to) => {
        const path = ['settings', 'a'];
        const [change] = setField([standing(1, before)], path, to);
        const after = change && 'set' in change ? ({ ...before, ...change.set } as Body) : before;
        expect(samePlain(after, applyDiff(before, [{ path, to }]))).toBe(true);
      }),
    );
  });
});

test.each([
  ['', undefined],
  [' 1,5 ', 1.5],
  ['-0.25', -0.25],
  ['1e3', 1000],
  ['many', null],
  ['1.2.3', null],
  ['Infinity', null],
])('"%s" typed as a number', (text, value) => {
  expect(typedNumber(text)).toBe(value);
});

test('a definition has one word for how it stands, the most pressing first', () => {
  const tag = { drafted: undefined, retired: false, paused: false, toldVersion: 5, runs: 5 };
  expect(lifeOf(tag)).toBe('in force');
  expect(lifeOf({ ...tag, refused: true })).toBe('refused by its source');
  expect(lifeOf({ ...tag, refused: true, runs: 4 })).toBe('not yet taken');
  expect(lifeOf({ ...tag, runs: 4 })).toBe('not yet taken');
  expect(lifeOf({ ...tag, runs: null })).toBe('not yet taken');
  expect(lifeOf({ ...tag, toldVersion: null, runs: null })).toBe('in force');
  expect(lifeOf({ ...tag, paused: true, runs: 4 })).toBe('paused');
  expect(lifeOf({ ...tag, retired: true, paused: true })).toBe('retired');
  expect(lifeOf({ ...tag, drafted: 'changed in draft', retired: true })).toBe('changed in draft');
});

test('a place is called by all that it lies in, and a circle ends', () => {
  const place = (id: number, name: string, parent: number | null): Standing => ({
    ...standing(id, { name, parent }),
    kind: 'place',
  });
  const places = [place(1, 'Site', null), place(2, 'Hall', 1), place(3, 'A', 4), place(4, 'B', 3)];
  expect([pathOf(2, places), pathOf(3, places), pathOf(9, places)]).toEqual(['Site / Hall', 'B / A', '']);
});

describe('the leaf', () => {
  const bodies: Record<number, Body> = {
    1: {
      name: 'Slow',
      description: '',
      intervalMilliseconds: 10_000,
      aligned: true,
      deadband: { kind: 'none' },
      longestSilenceSeconds: null,
    },
    2: {
      name: 'Fast',
      description: '',
      intervalMilliseconds: 100,
      aligned: true,
      deadband: { kind: 'none' },
      longestSilenceSeconds: null,
    },
  };
  const show = (ids: number[]): StandInServer => {
    const server = new StandInServer();
    server.on('GET /definitions', ({ parameters }) => ({
      definitions: parameters.ids!.split(',').map((id) => ({ kind: 'pace', id: Number(id), body: bodies[Number(id)] })),
    }));
    server.on('POST /drafts', () => ({ draft: null, created: [7] }));
    render(<EditPanel kind="pace" ids={ids} />, { wrapper: roomAt('/paces') });
    return server;
  };
  const edits = (server: StandInServer): unknown[] =>
    server.askedBy('POST /drafts').map(({ body }) => (body as { changes: unknown }).changes);

  test('has a field for each that the kind has, and writes what is left into the draft', async () => {
    const server = show([1]);
    const interval = await screen.findByLabelText(/^Interval/);
    fireEvent.change(interval, { target: { value: '5000' } });
    expect(edits(server)).toEqual([]);
    fireEvent.blur(interval);
    await waitFor(() =>
      expect(edits(server)).toEqual([[{ kind: 'pace', id: 1, set: { intervalMilliseconds: 5000 } }]]),
    );
  });
  test('refuses what is no number, and Escape takes it back', async () => {
    const server = show([1]);
    const interval = await screen.findByLabelText<HTMLInputElement>(/^Interval/);
    fireEvent.change(interval, { target: { value: 'often' } });
    fireEvent.blur(interval);
    expect(screen.getByText('This is no number.')).toBeTruthy();
    fireEvent.keyDown(interval, { key: 'Escape' });
    expect([interval.value, edits(server)]).toEqual(['10000', []]);
  });
  test('says where several differ, and sets all of them together', async () => {
    const server = show([1, 2]);
    expect((await screen.findByLabelText<HTMLInputElement>(/^Interval/)).placeholder).toBe('differs');
    fireEvent.change(screen.getByLabelText(/^Aligned/), { target: { value: 'no' } });
    await waitFor(() =>
      expect(edits(server)).toEqual([
        [
          { kind: 'pace', id: 1, set: { aligned: false } },
          { kind: 'pace', id: 2, set: { aligned: false } },
        ],
      ]),
    );
  });
  test('chooses one of several shapes, with the fields of the chosen one', async () => {
    const server = show([1]);
    fireEvent.change(await screen.findByLabelText(/^Deadband/), { target: { value: 'absolute' } });
    await waitFor(() =>
      expect(edits(server)).toEqual([[{ kind: 'pace', id: 1, set: { deadband: { kind: 'absolute', width: 0 } } }]]),
    );
  });
  test('of a tag takes numbers and none where there may be none, and says what its pace has', async () => {
    const server = new StandInServer();
    const tag = { name: 'T', type: 'real', low: 0, high: null, pace: 1, settings: { intervalMilliseconds: 500 } };
    server.on('GET /definitions', ({ parameters: { kind } }) => ({
      definitions: [{ kind, id: 1, body: kind === 'pace' ? bodies[1] : kind === 'tag' ? tag : { name: 'Other' } }],
    }));
    server.on('POST /drafts', () => ({ draft: null, created: [] }));
    render(<EditPanel kind="tag" ids={[1]} />, { wrapper: roomAt('/tags') });
    const low = await screen.findByLabelText('Range from');
    fireEvent.change(low, { target: { value: '-1,5' } });
    fireEvent.blur(low);
    fireEvent.change(low, { target: { value: '' } });
    fireEvent.blur(low);
    expect(await screen.findByText(/departs from its pace: every 10 s/)).toBeTruthy();
    expect(screen.getAllByText(/^as its pace:/)).toHaveLength(3);
    fireEvent.click(screen.getByRole('button', { name: 'as the pace' }));
    await waitFor(() =>
      expect(edits(server)).toEqual([
        [{ kind: 'tag', id: 1, set: { low: -1.5 } }],
        [{ kind: 'tag', id: 1, set: { low: null } }],
        [{ kind: 'tag', id: 1, set: { settings: {} } }],
      ]),
    );
  });
  test('retires, and copies under another name', async () => {
    const server = show([1]);
    fireEvent.click(await screen.findByRole('button', { name: 'Retire' }));
    fireEvent.click(screen.getByRole('button', { name: 'Copy' }));
    fireEvent.change(screen.getByLabelText('Name of the copy'), { target: { value: 'Slower' } });
    fireEvent.click(screen.getByRole('button', { name: 'Copy into the draft' }));
    await waitFor(() =>
      expect(edits(server)).toEqual([
        [{ kind: 'pace', id: 1, retire: true }],
        [{ kind: 'pace', id: 1, copy: true, set: { name: 'Slower' } }],
      ]),
    );
  });
});

describe('the draft bar', () => {
  const show = (drafts: object[]): StandInServer => {
    const server = new StandInServer();
    server.on('GET /session', () => ({ name: 'admin', scopes: [] }));
    server.on('GET /drafts', () => ({ drafts }));
    server.on('POST /drafts/3/undo', () => ({ draft: null }));
    render(<DraftBar />, { wrapper: roomAt('/') });
    return server;
  };
  test('counts the own changes, names the others’, and undoes the last edit', async () => {
    const server = show([
      { id: 3, owner: 'admin', changes: 4 },
      { id: 5, owner: 'Second', changes: 1 },
    ]);
    expect((await screen.findByText('4 changes in draft')).tagName).toBe('B');
    expect(screen.getByText('Second has 1 change in draft.')).toBeTruthy();
    fireEvent.click(screen.getByRole('button', { name: 'Undo the last edit' }));
    await waitFor(() => expect(server.askedBy('POST /drafts/3/undo')).toHaveLength(1));
  });
  test('is not there while nothing is in draft', async () => {
    const server = show([]);
    await waitFor(() => expect(server.askedBy('GET /drafts')).not.toEqual([]));
    expect(screen.queryByTestId('draft-bar')).toBeNull();
  });
});
