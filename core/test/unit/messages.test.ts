/** Messages: topics and filters, ways into a payload, and the values that it becomes. */
import fc from 'fast-check';
import {
  Status,
  expressionProblem,
  leafAt,
  messagePathText,
  numberInText,
  parseExactJson,
  filterProblem,
  instantSaid,
  leavesOf,
  parseMessagePath,
  readExpression,
  readPayload,
  reshapeBy,
  rowsOfMessage,
  statusSaid,
  topicMatches,
  topicProblem,
} from '../../src/index.ts';

describe('topics', () => {
  // The examples of MQTT 5.0 (OASIS 2019), section 4.7.
  test.each([
    ['sport/tennis/player1/#', 'sport/tennis/player1', true],
    ['sport/tennis/player1/#', 'sport/tennis/player1/ranking', true],
    ['sport/tennis/player1/#', 'sport/tennis/player1/score/wimbledon', true],
    ['sport/#', 'sport', true],
    ['#', 'sport', true],
    ['sport/tennis/+', 'sport/tennis/player1', true],
    ['sport/tennis/+', 'sport/tennis/player1/ranking', false],
    ['sport/+', 'sport', false],
    ['sport/+', 'sport/', true],
    ['+/+', '/finance', true],
    ['/+', '/finance', true],
    ['+', '/finance', false],
    ['#', '$SYS/monitor/Clients', false],
    ['+/monitor/Clients', '$SYS/monitor/Clients', false],
    ['$SYS/#', '$SYS/monitor/Clients', true],
    ['$SYS/monitor/+', '$SYS/monitor/Clients', true],
    ['ACCOUNTS', 'Accounts', false],
    ['$share/collectors/plant/+', 'plant/a', true],
  ])('%s asks for %s: %s', (filter, topic, matches) => {
    expect(filterProblem(filter)).toBeNull();
    expect(topicMatches(filter, topic)).toBe(matches);
  });
  test.each(['sport/tennis#', 'sport/tennis/#/ranking', 'sport+', '', 'a\0', 'é'.repeat(40_000)])(
    'no filter: number %#',
    (filter) => expect(filterProblem(filter)).toMatch(/\.$/),
  );
  test('a topic holds no wildcards', () => {
    expect(['a/b', '/', 'a b'].map(topicProblem)).toEqual([null, null, null]);
    expect(['', 'a/#', 'a+', '\0'].every((topic) => topicProblem(topic) !== null)).toBe(true);
  });
});

describe('ways into a message', () => {
  test('lead where they say, and nowhere else', () => {
    const message = { a: { 'b-c': [1, { d: 2 }] }, 'odd name': 3, '': 4 };
    const at = (text: string) => leafAt(message, parseMessagePath(text)!);
    expect([at('a.b-c[0]'), at('a.b-c[1].d'), at('["odd name"]'), at('[""]'), at('')]).toEqual([1, 2, 3, 4, message]);
    for (const nowhere of ['a.x', 'a.b-c[2]', 'toString', '__proto__.x', 'a.b-c.length', 'constructor'])
      expect(at(nowhere)).toBeUndefined();
    for (const none of ['.a', 'a..b', 'a[', 'a[-1]', 'a[*].b[*]', '[""', 'a b'])
      expect(parseMessagePath(none)).toBeUndefined();
  });
  test('of any message: each leaf has one, and it is read as it is written', () => {
    fc.assert(
      fc.property(fc.jsonValue({ maxDepth: 4 }), (message) => {
        for (const path of leavesOf(message)) {
          expect(parseMessagePath(messagePathText(path))).toEqual(path);
          const leaf = leafAt(message, path);
          expect(typeof leaf !== 'object' || leaf === null).toBe(true);
        }
      }),
    );
  });
});

describe('payloads', () => {
  test('JSON, texts and lines', () => {
    expect(readPayload('{"a":[1]}', 'json')).toEqual({ a: [1] });
    expect(() => readPayload('{"a":', 'json')).toThrow('The message is no JSON');
    expect([' 21.5 ', '-1e3', '.5', 'running', '0x10', 'NaN', ''].map((text) => readPayload(text, 'text'))).toEqual([
      21.5,
      -1000,
      0.5,
      'running',
      '0x10',
      'NaN',
      '',
    ]);
    expect(readPayload('2026-01-01T00:00:00Z;3,5;ok', 'csv')).toEqual(['2026-01-01T00:00:00Z', '3,5', 'ok']);
    expect(readPayload('t,"a ""b"", c",3\r\nu,x,4\r\n', 'csv')).toEqual([
      ['t', 'a "b", c', 3],
      ['u', 'x', 4],
    ]);
  });
});

describe('values of a message', () => {
  const AT = Date.UTC(2026, 10, 27, 12) * 1000;
  const path = (text: string) => parseMessagePath(text)!;
  const field = (tag: string, text: string) => ({ tag, field: path(text) });
  const terms = { time: path('ts'), status: path('q') };
  const live = { retained: false };

  test('several tags from one, each with the time and the status that it has', () => {
    const message = {
      ts: '2026-11-27T12:00:00Z',
      q: 'Uncertain',
      flow: 3.5,
      on: true,
      name: 'M7',
      none: null,
      deep: {},
    };
    const tags = ['flow', 'on', 'name', 'none', 'deep', 'gone'].map((name) => field(name, name));
    expect(
      rowsOfMessage(message, tags, terms, live).map(({ tag, value, status, time }) => [tag, value, status, time]),
    ).toEqual([
      ['flow', 3.5, Status.Uncertain, AT],
      ['on', 1, Status.Uncertain, AT],
      ['name', 'M7', Status.Uncertain, AT],
      ['none', null, Status.Uncertain, AT],
      ['deep', null, Status.BadConfigurationError, AT],
      ['gone', null, Status.BadConfigurationError, AT],
    ]);
  });
  test('a list is gone through, each with its own time', () => {
    const message = {
      unit: 'bar',
      rows: [
        { t: 1_795_780_800, v: 1 },
        { t: 1_795_780_801, v: 2 },
        { t: 'soon', v: 3 },
      ],
    };
    const rows = rowsOfMessage(message, [field('p', 'rows[*].v')], { time: path('rows[*].t'), status: null }, live);
    expect(rows.map(({ value, time }) => [value, time])).toEqual([
      [1, AT],
      [2, AT + 1e6],
      [3, null],
    ]);
    expect(rows[2]).toMatchObject({
      status: Status.Uncertain,
      trouble: '"soon" is not a time; its values are archived with the time of arrival, as Uncertain.',
    });
    expect(rowsOfMessage({ rows: 1 }, [field('p', 'rows[*].v')], terms, live)[0]!.trouble).toContain('no list');
  });
  test('times without an offset are read by the clock that is set, and only by it', () => {
    const at = (ts: unknown, clock: { zone: string; dates: 'ymd' | 'dmy' | 'mdy' } | null) =>
      rowsOfMessage({ ts, v: 1 }, [field('p', 'v')], { time: path('ts'), status: null, clock }, live)[0]!;
    const berlin = { zone: 'Europe/Berlin', dates: 'dmy' } as const;
    const utc = (text: string): number => Date.parse(text) * 1000;
    expect(at('02.12.2026 01:02:03', berlin)).toMatchObject({
      time: utc('2026-12-02T00:02:03Z'),
      status: Status.Good,
      trouble: null,
    });
    // ISO 8601 writes offsets with and without a colon.
    expect(at('2026-12-02T01:02:03+0100', null).time).toBe(utc('2026-12-02T00:02:03Z'));
    expect(at('2026-12-02 01:02:03', { ...berlin, dates: 'ymd' }).time).toBe(utc('2026-12-02T00:02:03Z'));
    for (const [ts, clock, why] of [
      ['02.12.2026 01:02:03', null, 'has no offset: set Zone and Dates of this source'],
      ['29.03.2026 02:30:00', berlin, 'is not a time in the zone Europe/Berlin'],
      ['31.31.2026 02:30:00', berlin, 'is not a time in the zone'],
      [null, berlin, 'does not say its time'],
    ] as const)
      expect([ts, at(ts, clock)]).toMatchObject([
        ts,
        { value: 1, status: Status.Uncertain, time: null, trouble: expect.stringContaining(why) as unknown },
      ]);
    // Nanoseconds have more digits than a double: they come as a bigint and lose nothing down to the microsecond.
    expect(at(parseExactJson('1795780800123456789'), null).time).toBe(1_795_780_800_123_457);
  });
  test('whole numbers of any length keep their digits in JSON; the rest is as JSON.parse has it', () => {
    const whole = fc.bigInt({ min: -(2n ** 70n), max: 2n ** 70n });
    const json = fc.letrec<{ value: unknown }>((tie) => ({
      value: fc.oneof(
        { maxDepth: 3 },
        whole,
        fc.double({ noDefaultInfinity: true, noNaN: true }),
        fc.string({ unit: 'grapheme' }),
        fc.constantFrom(null, true, '"12345678901234567890', '1'.repeat(30)),
        fc.array(tie('value'), { maxLength: 4 }),
        fc.dictionary(fc.string(), tie('value'), { maxKeys: 4 }),
      ),
    })).value;
    const textOf = (value: unknown): string => {
      if (typeof value === 'bigint') return String(value);
      if (Array.isArray(value)) return `[${value.map(textOf).join(', ')}]`;
      if (typeof value === 'object' && value !== null)
        return `{${Object.entries(value)
          .map(([name, one]) => `${JSON.stringify(name)}: ${textOf(one)}`)
          .join(',')}}`;
      return JSON.stringify(value);
    };
    const isSafe = (value: bigint): boolean => Number.isSafeInteger(Number(value));
    const expected = (value: unknown): unknown => {
      if (typeof value === 'bigint') return isSafe(value) ? Number(value) : value;
      // A double of so many digits is written as a whole number: then it is one.
      if (typeof value === 'number' && /^-?\d+$/.test(String(value)) && !Number.isSafeInteger(value))
        return BigInt(String(value));
      if (Array.isArray(value)) return value.map(expected);
      if (typeof value === 'object' && value !== null)
        return Object.fromEntries(Object.entries(value).map(([name, one]) => [name, expected(one)]));
      return Object.is(value, -0) ? 0 : value;
    };
    fc.assert(
      fc.property(json, (value) => expect(parseExactJson(textOf(value))).toEqual(expected(value))),
      { numRuns: 1000 },
    );
    expect(() => parseExactJson('{"a": 12345678901234567890,}')).toThrow(SyntaxError);
    expect(parseExactJson('{"a": 1, "a": 12345678901234567890}')).toEqual({ a: 12345678901234567890n });
  });
  test('numbers in texts are numbers, and nothing else is', () => {
    expect(['1.25', ' -3e2 ', '+7', '.5', '9223372036854775807'].map(numberInText)).toEqual([
      1.25,
      -300,
      7,
      0.5,
      9223372036854775807n,
    ]);
    for (const text of ['', '1,25', '0x10', 'NaN', 'Infinity', '1 2', '--1', 'true'])
      expect([text, numberInText(text)]).toEqual([text, undefined]);
  });
  test('what a broker kept is not taken for fresh, unless it says when it was', () => {
    const kept = { retained: true };
    const [without] = rowsOfMessage(5, [field('x', '')], { time: null, status: null }, kept);
    expect(without).toMatchObject({ value: 5, status: Status.UncertainLastUsableValue, time: null });
    const [within] = rowsOfMessage(
      { ts: AT / 1000, x: 5 },
      [field('x', 'x')],
      { time: path('ts'), status: null },
      kept,
    );
    expect(within).toMatchObject({ value: 5, status: Status.Good, time: AT });
  });
  test('times in whatever unit are told by their size; what may be anything is none', () => {
    expect([AT / 1e6, AT / 1e3, AT, AT * 1e3, String(AT / 1e6), '2026-11-27T13:00:00+01:00'].map(instantSaid)).toEqual(
      Array(6).fill(AT),
    );
    expect([0, 17, -1, NaN, Infinity, 'yesterday', true, null, {}].map(instantSaid)).toEqual(Array(9).fill(undefined));
  });
  test('status by code, by name, by word', () => {
    expect([0, 'Good', 'ok', true, 'BAD', false, 'Bad_SensorFailure', 'suspect'].map(statusSaid)).toEqual([
      0,
      0,
      0,
      0,
      Status.Bad,
      Status.Bad,
      Status.BadSensorFailure,
      Status.Uncertain,
    ]);
    expect(['fine', -1, null, 1.5].map(statusSaid)).toEqual(Array(4).fill(undefined));
  });
  test('whatever comes, each tag has its answer and nothing is thrown', () => {
    const paths = fc.constantFrom('', 'a', 'a.b', 'a[0]', 'a[*]', 'a[*].b', '["x y"]');
    fc.assert(
      fc.property(
        fc.jsonValue(),
        fc.array(paths),
        fc.option(paths),
        fc.option(paths),
        fc.boolean(),
        (message, fields, time, status, retained) => {
          const asked = { time: time === null ? null : path(time), status: status === null ? null : path(status) };
          for (const one of fields) {
            const rows = rowsOfMessage(message, [field(one, one)], asked, { retained });
            for (const row of rows) {
              expect(row.value === null || typeof row.value !== 'object').toBe(true);
              expect(row.time === null || Number.isInteger(row.time)).toBe(true);
              expect(row.status).toBe(row.status >>> 0);
            }
            if (!one.includes('*')) expect(rows).toHaveLength(1);
          }
        },
      ),
    );
  });
});

describe('an expression over messages', () => {
  // JSONata's own documentation, "Simple Queries" and "Building output structures": the address book, from memory.
  const address = {
    FirstName: 'Fred',
    Surname: 'Smith',
    Phone: [
      { type: 'home', number: '0203' },
      { type: 'office', number: '0196' },
    ],
  };

  test('makes another message, with the topic at hand', async () => {
    const made = readExpression(
      '{"who": FirstName & " " & Surname, "at": $topic, "office": Phone[type="office"].number}',
    );
    expect(await made(address, 'a/b')).toEqual({ who: 'Fred Smith', at: 'a/b', office: '0196' });
    expect(await readExpression('Phone{type: number}')(address, '')).toEqual({ home: '0203', office: '0196' });
  });

  test('says where it cannot be read, and why it fails', async () => {
    expect(expressionProblem('{"a": ')).toMatch(/^The expression cannot be read: .+ \(at character \d+\)\.$/);
    expect(expressionProblem('a.b')).toBeNull();
    await expect(readExpression('$number(a)')({ a: 'x' }, '')).rejects.toThrow(/^The expression fails on this message/);
  });

  test('that never ends, calls itself without end or makes endless lists is stopped', async () => {
    for (const endless of [
      '($loop := function($n){$loop($n + 1)}; $loop(0))',
      '($deep := function($n){1 + $deep($n)}; $deep(0))',
      '[1..9999999].($ * 2)',
    ])
      await expect(readExpression(endless)({}, '')).rejects.toThrow(/^The expression fails on this message/);
  });

  test('reaches nothing but the message', async () => {
    const outside = ['process', '$eval("process")', 'constructor', '__proto__', '$string.constructor', 'a.constructor'];
    for (const reaching of outside)
      expect([reaching, await readExpression(reaching)({ a: 1 }, '')]).toEqual([reaching, undefined]);
  });

  test('whose result is no value is refused for the tag alone', async () => {
    const read = await reshapeBy('{"f": function($x){$x}, "v": 1}')!({ message: {} }, '');
    if ('trouble' in read) throw new Error(read.trouble);
    const fields = ['f', 'v'].map((tag) => ({ tag, field: parseMessagePath(tag)! }));
    const rows = rowsOfMessage(read.message, fields, { time: null, status: null }, { retained: false });
    expect(rows.map(({ value }) => value)).toEqual([null, 1]);
  });
});
