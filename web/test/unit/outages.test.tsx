/**
 * Gaps on the screen: what became of them, why, what can be done; buffers, and whether they would last.
 * @jest-environment jsdom
 */
import type { BackfillAnswer, Gap, Job } from '@wide-ledger/contract';
import { cleanup, fireEvent, render, screen, waitFor, within } from '@testing-library/react';
import { GapLeaf } from '../../src/coverage/GapLeaf.tsx';
import { PlannedWork } from '../../src/coverage/PlannedWork.tsx';
import { stateOf } from '../../src/coverage/states.ts';
import { BuffersLeaf } from '../../src/sources/buffers/BuffersLeaf.tsx';
import { lastsWords, spoolLasts } from '../../src/sources/buffers/lasting.ts';
import { showNumber } from '../../src/controls/values.ts';
import { instantAt } from '../../src/window/times.ts';
import { useWindowState } from '../../src/window/windowStore.ts';
import { Refusal, StandInServer, roomAt } from './standInServer.tsx';

beforeEach(() => useWindowState.setState({ siteZone: 'Europe/Berlin', otherZone: null }));
afterEach(cleanup);

const gapOf = (over: Partial<Gap> = {}): Gap => ({
  from: '2026-11-26T08:00:00Z',
  to: '2026-11-26T08:10:00Z',
  seconds: 600,
  cause: 'source',
  sentence: 'It was off.',
  code: 'OFF',
  recoverable: true,
  state: 'open',
  fate: '',
  explained: null,
  source: 'S',
  tag: null,
  tags: 37,
  ...over,
});

test.each([
  [{}, 'recoverable'],
  [{ recoverable: false }, 'not buffered'],
  [{ cause: 'paused' }, 'not asked for'],
  [{ cause: 'set aside' }, 'set aside'],
  [{ cause: 'link' }, 'on its way'],
  [{ state: 'being recovered' }, 'being recovered'],
  [{ state: 'recovered' }, 'recovered'],
  [{ state: 'recovered', goneTags: 19 }, 'partly recovered'],
  [{ state: 'gone', fate: 'Overwritten.' }, 'gone for good'],
  [{ state: 'gone', fate: 'Overwritten.', explained: { by: 'me', reason: 'x' } }, 'explained'],
  // What came back needs no word of anybody.
  [{ state: 'recovered', explained: { by: 'me', reason: 'x' } }, 'recovered'],
] as const)('a gap that is %j is said to be %s', (over, word) => {
  expect(stateOf(gapOf(over as Partial<Gap>)).word).toBe(word);
});

describe('the leaf of a gap', () => {
  const plan: BackfillAnswer['plan'] = {
    from: '',
    to: '',
    overlap: 'fill',
    parts: [
      {
        source: 'S',
        tags: 37,
        stretches: 1,
        seconds: 600,
        values: 22_200,
        calls: 37,
        lasts: 2,
        reachesBack: '2026-11-26T08:04:00Z',
        olderSeconds: 240,
      },
    ],
    leftOut: [{ tag: 'T9', reason: 'It is paused.' }],
    sentence: 'At most 37 calls of S, about 2 s.',
  };
  const job: Job = {
    id: 5,
    kind: 'backfill',
    title: '',
    state: 'done',
    done: 37,
    total: 37,
    unit: 'stretches',
    startedAt: '',
    updatedAt: '',
    sentence: '100 values in 37 calls; 1 stretch is still missing, each with its reason.',
    report: {
      values: 100,
      calls: 37,
      missingBefore: 22_200,
      missingAfter: 240,
      remains: [{ tag: 'T1', from: '2026-11-26T08:00:00Z', to: '2026-11-26T08:04:00Z', reason: 'Overwritten.' }],
    },
  };

  test('leads to a backfill: the plan, what is too old, then what is still missing and why', async () => {
    const server = new StandInServer();
    server.on('POST /backfills', ({ body }) => ({ plan, job: (body as { dryRun: boolean }).dryRun ? null : 5 }));
    server.on('GET /jobs/5', () => job);
    render(<GapLeaf gap={gapOf()} onClose={() => undefined} />, { wrapper: roomAt('/coverage') });
    expect(server.asked).toEqual([]);
    fireEvent.click(screen.getByRole('button', { name: 'Plan it' }));
    expect(await screen.findByText(plan.sentence)).toBeTruthy();
    expect(screen.getByText('4 min lie before that')).toBeTruthy();
    expect(screen.getByText(/It is paused/)).toBeTruthy();
    fireEvent.change(screen.getByLabelText('What to fetch'), { target: { value: 'replace' } });
    await waitFor(() => expect(server.askedBy('POST /backfills')).toHaveLength(2));
    fireEvent.click(await screen.findByRole('button', { name: 'Begin' }));
    const remains = await screen.findByLabelText('Still missing');
    expect(within(remains).getByText(/Overwritten/).textContent).toContain('T1, 26 Nov 09:00:00 – 09:04:00');
    expect(server.askedBy('POST /backfills').map(({ body }) => body)).toEqual(
      (
        [
          ['fill', true],
          ['replace', true],
          ['replace', false],
        ] as const
      ).map(([overlap, dryRun]) => ({ source: 'S', from: gapOf().from, to: gapOf().to, overlap, dryRun })),
    );
    // It is over: there is nothing to pause.
    expect(screen.queryByRole('button', { name: 'Pause' })).toBeNull();
  });

  test('a refusal is said, and the plan can be asked for again', async () => {
    const server = new StandInServer();
    server.on('POST /backfills', () => new Refusal(503, 'No collector took up the question.'));
    render(<GapLeaf gap={gapOf({ tag: 'T1', tags: 1 })} onClose={() => undefined} />, { wrapper: roomAt('/coverage') });
    fireEvent.click(screen.getByRole('button', { name: 'Plan it' }));
    expect((await screen.findByRole('alert')).textContent).toContain('No collector took up the question.');
    expect(server.askedBy('POST /backfills')[0]!.body).toMatchObject({ tags: ['T1'] });
    expect(screen.getByRole<HTMLButtonElement>('button', { name: 'Plan it' }).disabled).toBe(false);
  });

  test('takes an explanation, and shows the one that stands', async () => {
    const server = new StandInServer();
    server.on('POST /gaps/explanations', () => ({}));
    const { rerender } = render(<GapLeaf gap={gapOf({ recoverable: false })} onClose={() => undefined} />, {
      wrapper: roomAt('/coverage'),
    });
    const button = screen.getByRole<HTMLButtonElement>('button', { name: 'Explain' });
    expect(button.disabled).toBe(true);
    fireEvent.change(screen.getByLabelText(/Why it was/), { target: { value: 'Mast painted.' } });
    fireEvent.click(button);
    await waitFor(() =>
      expect(server.askedBy('POST /gaps/explanations').map(({ body }) => body)).toEqual([
        { source: 'S', from: gapOf().from, to: gapOf().to, reason: 'Mast painted.' },
      ]),
    );
    // A source that keeps no past is not asked for it.
    expect(screen.queryByRole('button', { name: 'Plan it' })).toBeNull();
    rerender(
      <GapLeaf gap={gapOf({ explained: { by: 'admin', reason: 'Mast painted.' } })} onClose={() => undefined} />,
    );
    expect(screen.getByText('admin').parentElement!.textContent).toContain('Mast painted.');
  });

  test('tells its story when it is asked for, in the order of time, with who', async () => {
    const server = new StandInServer();
    const at = (minute: number): string => `2026-11-26T08:${String(minute).padStart(2, '0')}:00Z`;
    server.on('GET /gaps/story', () => ({
      events: [
        { at: at(0), told: 'outage', who: '', sentence: 'It was off.' },
        { at: at(12), told: 'values', who: 'collector-1', sentence: 'The last of 60 values came in, buffered.' },
      ],
    }));
    render(<GapLeaf gap={gapOf()} onClose={() => undefined} />, { wrapper: roomAt('/coverage') });
    fireEvent.click(screen.getByRole('button', { name: 'Tell' }));
    const story = screen.getByRole('region', { name: 'Story' });
    await waitFor(() => expect(within(story).getAllByRole('listitem')).toHaveLength(2));
    expect(
      within(story)
        .getAllByRole('listitem')
        .map(({ textContent }) => textContent),
    ).toEqual([
      '26 Nov 2026 09:00:00It was off.',
      '26 Nov 2026 09:12:00 · collector-1The last of 60 values came in, buffered.',
    ]);
    expect(server.asked).toHaveLength(1);
  });

  test('what came back, and what somebody paused, needs no explanation', () => {
    new StandInServer();
    for (const over of [{ state: 'recovered' }, { cause: 'paused' }] as const) {
      render(<GapLeaf gap={gapOf(over)} onClose={() => undefined} />, { wrapper: roomAt('/coverage') });
      expect(screen.queryByRole('button', { name: 'Explain' })).toBeNull();
      cleanup();
    }
  });
});

test('planned work is said by the clock of the site, and taken back', async () => {
  const server = new StandInServer();
  const one = {
    id: 4,
    kind: 'place',
    about: 'Thornmere Wells',
    from: '2099-06-01T04:00:00Z',
    to: '2099-06-01T06:00:00Z',
    by: 'admin',
    reason: 'Mast painted.',
    at: '',
  };
  server.on('GET /gaps/explanations', () => ({ explanations: [one] }));
  server.on('GET /definitions', () => ({ definitions: [] }));
  server.on('GET /sources', () => ({ sources: [{ id: 1, name: 'Kilnbank controller' }] }));
  server.on('POST /gaps/explanations', () => ({}));
  server.on('DELETE /gaps/explanations/4', () => null);
  render(<PlannedWork onClose={() => undefined} />, { wrapper: roomAt('/coverage') });
  expect(await screen.findByText('1 Jun 06:00 – 08:00')).toBeTruthy();
  expect(screen.getByText('admin, planned')).toBeTruthy();
  await screen.findByRole('option', { name: 'Kilnbank controller' });
  const fill = (label: string, value: string): void =>
    void fireEvent.change(screen.getByLabelText(label), { target: { value } });
  const button = screen.getByRole<HTMLButtonElement>('button', { name: 'Plan it' });
  fill('Where', 'source:Kilnbank controller');
  fill('From', '2099-06-02T08:00');
  fill('To', '2099-06-02T07:00');
  fill('Why', 'Server moved.');
  expect(screen.getByText('It ends before it begins.')).toBeTruthy();
  expect(button.disabled).toBe(true);
  fill('To', '2099-06-02T09:30');
  fireEvent.click(button);
  await waitFor(() =>
    expect(server.askedBy('POST /gaps/explanations').map(({ body }) => body)).toEqual([
      {
        source: 'Kilnbank controller',
        from: '2099-06-02T06:00:00.000Z',
        to: '2099-06-02T07:30:00.000Z',
        reason: 'Server moved.',
      },
    ]),
  );
  fireEvent.click(screen.getByRole('button', { name: 'Take back' }));
  fireEvent.click(screen.getByRole('button', { name: 'Really take it back?' }));
  await waitFor(() => expect(server.askedBy('DELETE /gaps/explanations/4')).toHaveLength(1));
});

test('a clock’s time is an instant of its zone; what is no time is none', () => {
  expect(instantAt('2026-11-26T14:05', 'Europe/Berlin')).toBe('2026-11-26T13:05:00.000Z');
  expect(instantAt('2026-07-26T14:05', 'Europe/Berlin')).toBe('2026-07-26T12:05:00.000Z');
  expect([instantAt('', 'UTC'), instantAt('soon', 'UTC')]).toEqual([null, null]);
});

describe('buffers', () => {
  test('a spool lasts as long as its disk has room for what comes', () => {
    expect(spoolLasts({ spoolFreeBytes: 3600 * 50 * 20, spoolBytesPerSample: 20 }, 50)).toBe(3600);
    expect(spoolLasts({ spoolFreeBytes: null, spoolBytesPerSample: 20 }, 50)).toBeNull();
    expect(lastsWords(3600)).toBe('1 h');
    expect(lastsWords(Infinity)).toBe('more than ten years');
    expect(lastsWords(null)).toBe('not known how long');
  });

  test('each is shown with what would be lost first; the calculator says whether it would last', async () => {
    const server = new StandInServer();
    const state = { keptPerSecond: 50 };
    const recovery = {
      mode: 'by itself',
      holes: 2,
      since: 0,
      values: 0,
      calls: 0,
      reachesBack: Date.now() - 3_600_000,
      orders: [],
    };
    server.on('GET /desk', () => ({
      sources: [
        { id: 1, name: 'Kiln', connection: { bufferValues: 20_000 }, state: { ...state, recovery } },
        { id: 2, name: 'Thorn', connection: {}, state: { keptPerSecond: 0, recovery: null } },
      ],
      collectors: [
        { name: 'one', spooledEntries: 3, spooledSamples: 1200, spoolFreeBytes: 3_600_000, spoolBytesPerSample: 20 },
      ],
    }));
    server.on('GET /links', () => ({
      sending: [{ id: 1, name: 'Region', waiting: 4200, lagSeconds: 90 }],
      arriving: [],
      keptDays: 30,
    }));
    render(<BuffersLeaf onClose={() => undefined} />, { wrapper: roomAt('/sources') });
    const kiln = await screen.findByLabelText('Buffer of Kiln');
    expect(kiln.textContent).toContain('Reaches back1 h');
    expect(kiln.textContent).toContain('2 stretches');
    // 20,000 values at 50 a second.
    expect(kiln.textContent).toContain('6 min 40 s at today’s rate');
    expect(screen.getByLabelText('Buffer of Thorn').textContent).toContain('a read that is missed is lost');
    const spool = screen.getByLabelText('Spool of one').textContent;
    expect(spool).toContain(`${showNumber(1200)} values in 3 entries`);
    expect(spool).toContain('1 h at today’s rate, 50.0 values/s');
    const backlog = (await screen.findByLabelText('Backlog of Region')).textContent;
    expect(backlog).toContain(`${showNumber(4200)} values of the journal, 1 min 30 s old at most`);
    expect(backlog).toContain('30 days');
    const calculator = within(screen.getByLabelText('Calculator'));
    const type = (label: string, value: string): void =>
      void fireEvent.change(calculator.getByLabelText(label), { target: { value } });
    // 20,000 values of 200 tags a second last 100 s of an hour, and come back in calls of 10, 20 a second.
    expect(calculator.getByRole('status').textContent).toBe(
      'Full after1 min 40 sLostthe first 58 min 20 s of the outageFetched within1 min 40 s',
    );
    type('The outage lasts, minutes', '1');
    expect(calculator.getByRole('status').textContent).toContain('Lostnothing');
    expect(calculator.getByRole('status').textContent).toContain('Fetched within1 min');
    type('Calls a second', '0');
    expect(calculator.getByRole('status').textContent).toContain('never: no calls are made');
    type('Tags', 'many');
    expect(calculator.getByRole('status').textContent).toBe('Tags: type a number that is not negative.');
  });
});
