/** What is shown, to take along: as a file, as an address, as SQL. */
import type { Format } from '@wide-ledger/contract';
import { Popover } from 'radix-ui';
import { useState } from 'react';
import { Button } from '../controls/Button.tsx';
import { exportAddress, sqlFor, type Window } from './requests.ts';
import type { Read, TraceView } from './useTraceView.ts';

interface Props {
  readonly view: TraceView;
  readonly focused: string;
  readonly window: Window;
  readonly zone: string;
}

const FORMATS: readonly (readonly [Format, string])[] = [
  ['csv', 'CSV'],
  ['xlsx', 'XLSX'],
  ['parquet', 'Parquet'],
  ['json', 'JSON'],
];

const WHAT: Readonly<Record<Read, string>> = {
  processed: 'Aggregates of the window.',
  raw: 'Raw values of the window, however many.',
  at: 'Values at the times given.',
  modified: 'Modified values of the window.',
};

export function TakeAway({ view, focused, window, zone }: Props) {
  const [all, setAll] = useState(true);
  const [sheets, setSheets] = useState(false);
  const [copied, setCopied] = useState('');
  const names = all ? view.names : [focused];
  const link = (format: Format): string =>
    exportAddress(view, names, window, zone, format, sheets && format === 'xlsx' ? 'sheets' : 'table');
  const copy = (what: string, text: string): void => {
    void navigator.clipboard.writeText(text).then(() => setCopied(what));
  };
  const option = (label: string, checked: boolean, set: (checked: boolean) => void) => (
    <label className="flex h-8 items-center gap-2">
      <input type="checkbox" checked={checked} onChange={(event) => set(event.target.checked)} />
      {label}
    </label>
  );
  return (
    <Popover.Root onOpenChange={() => setCopied('')}>
      <Popover.Trigger asChild>
        <Button>Take away</Button>
      </Popover.Trigger>
      <Popover.Portal>
        <Popover.Content
          align="end"
          sideOffset={4}
          aria-label="Take away what is shown"
          className="z-20 w-72 rounded-paper border border-edge bg-raised p-3 shadow-lg"
        >
          <p className="text-ink-2">{WHAT[view.read]}</p>
          {view.names.length > 1 && (
            <>
              {option(`All ${view.names.length} tags, not only ${focused}`, all, setAll)}
              {option('XLSX: a sheet for each tag', sheets, setSheets)}
            </>
          )}
          <div className="mt-1 flex flex-wrap gap-2">
            {FORMATS.map(([format, name]) => (
              <a
                key={format}
                href={link(format)}
                download
                className="flex h-[30px] items-center rounded-paper border border-rule bg-raised px-2.5 no-underline hover:border-edge"
              >
                {name}
              </a>
            ))}
          </div>
          <div className="mt-3 flex gap-2 border-t border-rule pt-3">
            <Button onClick={() => copy('address', `${location.origin}${link('json')}`)}>
              {copied === 'address' ? 'Copied' : 'Copy the address'}
            </Button>
            <Button onClick={() => copy('SQL', sqlFor(view, names, window, zone))}>
              {copied === 'SQL' ? 'Copied' : 'Copy as SQL'}
            </Button>
          </div>
        </Popover.Content>
      </Popover.Portal>
    </Popover.Root>
  );
}
