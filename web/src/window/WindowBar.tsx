/** The bar on top of every screen: site, ribbon, window, zone, live or held. */
import { Popover } from 'radix-ui';
import { useState } from 'react';
import { useLive } from '../server/live.ts';
import { useDesk } from '../server/queries.ts';
import { Button } from '../controls/Button.tsx';
import { Ribbon } from './Ribbon.tsx';
import { lengthWords, windowWords } from './times.ts';
import { hold, showLast, toggleLive, useWindow, useZone } from './windowStore.ts';
import { ZoneButton } from './ZoneButton.tsx';

const MINUTE = 60_000;
const HOUR = 60 * MINUTE;
const DAY = 24 * HOUR;
const LENGTHS: readonly [string, number][] = [
  ['1 min', MINUTE],
  ['5 min', 5 * MINUTE],
  ['15 min', 15 * MINUTE],
  ['1 h', HOUR],
  ['6 h', 6 * HOUR],
  ['12 h', 12 * HOUR],
  ['1 day', DAY],
  ['3 days', 3 * DAY],
  ['14 days', 14 * DAY],
  ['3 months', 92 * DAY],
  ['13 months', 396 * DAY],
];

export function WindowBar() {
  const { data: desk } = useDesk();
  const { from, to, live } = useWindow();
  const zone = useZone();
  const connected = useLive((state) => state.connected);
  return (
    <header className="flex h-14 shrink-0 items-center gap-3 border-b border-rule pr-3.5 pl-3.5">
      <a href="/" className="w-32 shrink-0 font-title text-[17px] font-semibold text-ink no-underline">
        Wide Ledger
      </a>
      <span className="shrink-0 rounded-paper border border-rule bg-raised px-2.5 py-1">
        <b className="font-semibold" title={desk?.zone}>
          {desk?.site ?? '…'}
        </b>{' '}
        <span className="text-ink-2">site</span>
      </span>
      <Ribbon />
      <Popover.Root>
        <Popover.Trigger asChild>
          <Button data-testid="window" title={`${windowWords(from, to, 'UTC')} UTC`}>
            <b className="font-semibold whitespace-nowrap">{windowWords(from, to, zone)}</b>
            <span className="ml-2 whitespace-nowrap text-ink-2">{lengthWords(to - from)}</span>
          </Button>
        </Popover.Trigger>
        <Popover.Portal>
          <Popover.Content
            align="end"
            sideOffset={6}
            className="z-40 w-80 rounded-paper border border-rule bg-raised p-3 shadow-lg"
          >
            <p className="mb-1.5 text-ink-2">Up to now, moving along</p>
            <div className="flex flex-wrap gap-1.5">
              {LENGTHS.map(([name, length]) => (
                <Popover.Close key={name} asChild>
                  <Button onClick={() => showLast(length)}>{name}</Button>
                </Popover.Close>
              ))}
            </div>
            <HeldWindow from={from} to={to} />
          </Popover.Content>
        </Popover.Portal>
      </Popover.Root>
      <ZoneButton zones={desk?.zones ?? []} />
      <Button
        onClick={toggleLive}
        aria-pressed={live}
        data-testid="live"
        className={live ? 'border-verdigris text-verdigris' : ''}
        title={live ? 'Moves along with the present; press to hold' : 'Held; press to move along again'}
      >
        {live ? (connected ? '● live' : '○ reconnecting') : '‖ held'}
      </Button>
    </header>
  );
}

/** From and to, typed: in UTC, as written into the address. */
function HeldWindow({ from, to }: { readonly from: number; readonly to: number }) {
  const text = (time: number): string => new Date(time).toISOString().slice(0, 19).replace('T', ' ');
  const [start, setStart] = useState(text(from));
  const [end, setEnd] = useState(text(to));
  const read = (given: string): number => Date.parse(`${given.trim().replace(' ', 'T')}Z`);
  const wrong = !(read(start) < read(end));
  return (
    <form
      className="mt-3 border-t border-rule pt-3"
      onSubmit={(event) => {
        event.preventDefault();
        if (!wrong) hold(read(start), read(end));
      }}
    >
      <p className="mb-1.5 text-ink-2">Held still, in UTC</p>
      {(
        [
          ['From', start, setStart],
          ['To', end, setEnd],
        ] as const
      ).map(([name, value, set]) => (
        <label key={name} className="mb-1.5 flex items-center gap-2">
          <span className="w-10 text-ink-2">{name}</span>
          <input
            className="figure h-8 flex-1 rounded-paper border border-edge bg-paper px-2"
            value={value}
            onChange={(event) => set(event.target.value)}
          />
        </label>
      ))}
      {wrong && <p className="mb-1.5 text-madder">Both as 2026-11-22 06:00:00, from before to.</p>}
      <Button type="submit" disabled={wrong}>
        Hold this window
      </Button>
    </form>
  );
}
