/** A calculator of capacities: how long a buffer lasts, and how long it takes to catch up. */
import { untilCaughtUp, untilFull } from '@wide-ledger/core';
import { useState } from 'react';
import { typedNumber } from '../../controls/typedNumber.ts';
import { Facts } from '../../controls/Page.tsx';
import { lastsWords } from './lasting.ts';

/** What is typed, by field. */
const FIELDS = {
  tags: ['Tags', '200'],
  rate: ['Values a second, each', '1'],
  capacity: ['The buffer holds, values', '20000'],
  outage: ['The outage lasts, minutes', '60'],
  chunk: ['Values a call', '10'],
  calls: ['Calls a second', '20'],
} as const;
type Field = keyof typeof FIELDS;

export function Calculator() {
  const [typed, setTyped] = useState<Record<Field, string>>(
    () =>
      Object.fromEntries(Object.entries(FIELDS).map(([field, [, first]]) => [field, first])) as Record<Field, string>,
  );
  const numberOf = (field: Field): number => typedNumber(typed[field]) ?? NaN;
  const wrong = (Object.keys(FIELDS) as Field[]).filter((field) => !(numberOf(field) >= 0));
  return (
    <section aria-label="Calculator" className="mt-2 border-t border-rule pt-3">
      <h3 className="mb-1 font-semibold">Would it last?</h3>
      <div className="grid grid-cols-2 items-end gap-x-3 gap-y-2">
        {(Object.keys(FIELDS) as Field[]).map((field) => (
          <label key={field}>
            <span className="block text-ink-2">{FIELDS[field][0]}</span>
            <input
              inputMode="decimal"
              className="figure mt-0.5 block h-8 w-full rounded-paper border border-edge bg-paper px-2"
              aria-invalid={wrong.includes(field)}
              value={typed[field]}
              onChange={(event) => setTyped({ ...typed, [field]: event.target.value })}
            />
          </label>
        ))}
      </div>
      <div className="mt-3" role="status">
        {wrong.length > 0 ? (
          <p className="text-ochre">{`${FIELDS[wrong[0]!][0]}: type a number that is not negative.`}</p>
        ) : (
          <Answer {...answerOf(numberOf)} />
        )}
      </div>
    </section>
  );
}

interface Answered {
  readonly full: number;
  readonly lost: number;
  readonly caughtUp: number;
}

function answerOf(numberOf: (field: Field) => number): Answered {
  const valuesPerSecond = numberOf('tags') * numberOf('rate');
  const full = untilFull({ capacity: numberOf('capacity'), held: 0, valuesPerSecond });
  const outage = numberOf('outage') * 60;
  const backlog = Math.min(outage * valuesPerSecond, numberOf('capacity'));
  const calls = { valuesPerCall: numberOf('chunk'), callsPerSecond: numberOf('calls') };
  return {
    full,
    lost: Math.max(0, outage - full),
    // What is live comes another way: it takes none of the calls.
    caughtUp: untilCaughtUp({ backlog, ...calls, liveValuesPerSecond: 0 }),
  };
}

function Answer({ full, lost, caughtUp }: Answered) {
  return (
    <Facts
      rows={[
        ['Full after', lastsWords(full)],
        [
          'Lost',
          <span className={lost > 0 ? 'text-madder' : 'text-verdigris'}>
            {lost > 0 ? `the first ${lastsWords(lost)} of the outage` : 'nothing'}
          </span>,
        ],
        ['Fetched within', Number.isFinite(caughtUp) ? lastsWords(caughtUp) : 'never: no calls are made'],
      ]}
    />
  );
}
