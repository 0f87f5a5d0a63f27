/** By whose clock times are shown: the site's, UTC, or that of a site whose history arrives here. */
import { Popover } from 'radix-ui';
import type { ComponentProps } from 'react';
import { Button } from '../controls/Button.tsx';
import { offsetOf } from './times.ts';
import { showZone, toggleZone, useWindow, useWindowState, useZone } from './windowStore.ts';

interface Props {
  /** Those of other sites. */
  readonly zones: readonly string[];
}

export function ZoneButton({ zones }: Props) {
  const siteZone = useWindowState((state) => state.siteZone);
  // Between two there is nothing to choose.
  if (zones.length === 0) return <Shown title="Changes between the site's zone and UTC" onClick={toggleZone} />;
  const choices: readonly [string, string | null][] = [
    [`site time, ${siteZone}`, null],
    ['UTC', 'UTC'],
    ...zones.map((zone): [string, string] => [zone, zone]),
  ];
  return (
    <Popover.Root>
      <Popover.Trigger asChild>
        <Shown title="By whose clock times are shown" />
      </Popover.Trigger>
      <Popover.Portal>
        <Popover.Content
          align="end"
          sideOffset={6}
          className="z-40 w-64 rounded-paper border border-rule bg-raised p-3 shadow-lg"
        >
          <p className="mb-1.5 text-ink-2">Times by the clock of</p>
          <div className="flex flex-col gap-1.5">
            {choices.map(([words, zone]) => (
              <Popover.Close key={words} asChild>
                <Button onClick={() => showZone(zone)}>{words}</Button>
              </Popover.Close>
            ))}
          </div>
        </Popover.Content>
      </Popover.Portal>
    </Popover.Root>
  );
}

/** The zone that holds, with its offset at the end of the window. */
function Shown(props: ComponentProps<'button'>) {
  const { to } = useWindow();
  const zone = useZone();
  const isSite = useWindowState((state) => state.otherZone === null);
  return (
    <button
      type="button"
      className="w-20 shrink-0 rounded-paper px-1 text-right leading-tight text-ink-2 hover:text-ink"
      {...props}
    >
      <span className="block truncate">{isSite ? 'site time' : zone.replace(/^.*\//, '').replaceAll('_', ' ')}</span>
      <span className="figure">{offsetOf(to, zone)}</span>
    </button>
  );
}
