/** Which columns are shown, by what they are sorted, and arrangements under a name. */
import { Popover } from 'radix-ui';
import { useState } from 'react';
import { Button } from '../controls/Button.tsx';
import type { SheetColumn } from './columns.ts';
import type { Arrangement } from './rows.ts';
import { keepView, keptViews } from './views.ts';

interface Props {
  readonly columns: readonly SheetColumn[];
  readonly arrangement: Arrangement;
  readonly onArrangement: (arrangement: Arrangement) => void;
}

const BOX = 'h-7 min-w-0 flex-1 rounded-paper border border-edge bg-paper px-1.5';

export function Arrange({ columns, arrangement, onArrangement }: Props) {
  const [views, setViews] = useState(keptViews);
  const [name, setName] = useState('');
  const shown = new Set(arrangement.columns);
  const toggle = (key: string): void =>
    onArrangement({
      ...arrangement,
      columns: shown.has(key) ? arrangement.columns.filter((one) => one !== key) : [...arrangement.columns, key],
    });
  return (
    <Popover.Root>
      <Popover.Trigger asChild>
        <Button>Columns</Button>
      </Popover.Trigger>
      <Popover.Portal>
        <Popover.Content
          align="end"
          sideOffset={4}
          aria-label="Columns and order"
          className="z-50 flex max-h-[70vh] w-80 flex-col overflow-y-auto rounded-paper border border-edge bg-raised p-3"
        >
          <div className="mb-2 flex items-center gap-2">
            <label htmlFor="sheet-sort">Sorted by</label>
            <select
              id="sheet-sort"
              className={BOX}
              value={arrangement.sort?.key ?? 'name'}
              onChange={(event) =>
                onArrangement({
                  ...arrangement,
                  sort: { key: event.target.value, descending: arrangement.sort?.descending ?? false },
                })
              }
            >
              {columns.map(({ key, title }) => (
                <option key={key} value={key}>
                  {title}
                </option>
              ))}
            </select>
            <Button
              aria-pressed={arrangement.sort?.descending ?? false}
              onClick={() =>
                onArrangement({
                  ...arrangement,
                  sort: { key: arrangement.sort?.key ?? 'name', descending: !(arrangement.sort?.descending ?? false) },
                })
              }
            >
              downwards
            </Button>
          </div>
          <fieldset className="border-t border-rule pt-2">
            <legend className="sr-only">Columns that are shown</legend>
            {columns.map(({ key, title }) => (
              <label key={key} className="flex min-h-6 items-center gap-2">
                <input
                  type="checkbox"
                  checked={shown.has(key)}
                  disabled={key === 'name'}
                  onChange={() => toggle(key)}
                />
                {title}
              </label>
            ))}
          </fieldset>
          <div className="mt-2 border-t border-rule pt-2">
            {Object.entries(views).map(([kept, view]) => (
              <div key={kept} className="flex items-center gap-2 py-0.5">
                <button className="min-w-0 flex-1 truncate text-left underline" onClick={() => onArrangement(view)}>
                  {kept}
                </button>
                <button className="text-ink-2 hover:text-ink" onClick={() => setViews(keepView(kept, null))}>
                  forget
                </button>
              </div>
            ))}
            <form
              className="mt-1 flex gap-2"
              onSubmit={(event) => {
                event.preventDefault();
                setViews(keepView(name.trim(), arrangement));
                setName('');
              }}
            >
              <input
                aria-label="Name of this view"
                placeholder="keep this view as…"
                className={BOX}
                value={name}
                onChange={(event) => setName(event.target.value)}
              />
              <Button type="submit" disabled={name.trim() === ''}>
                Keep
              </Button>
            </form>
          </div>
        </Popover.Content>
      </Popover.Portal>
    </Popover.Root>
  );
}
