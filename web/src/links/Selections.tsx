/** What a link carries: places and words that add up. */
import type { Selection } from '@wide-ledger/core';
import { usePlacePaths } from '../configuration/PlaceSelect.tsx';
import { Button } from '../controls/Button.tsx';
import { Field } from '../controls/Field.tsx';

interface Props {
  readonly selections: readonly Selection[];
  readonly onChange: (selections: readonly Selection[]) => void;
}

export function Selections({ selections, onChange }: Props) {
  const places = usePlacePaths();
  return (
    <>
      {selections.map((selection, i) => {
        const set = (change: Partial<Selection>): void =>
          onChange(selections.map((one, other) => (other === i ? { ...one, ...change } : one)));
        return (
          <div key={i} role="group" aria-label={`Carries ${i + 1}`}>
            <label className="mb-2.5 block">
              {i === 0 ? 'Carries' : 'And'} <span className="text-ink-2">all of a place, and what comes there</span>
              <select
                className="mt-1 block h-8 w-full rounded-paper border border-edge bg-paper px-2"
                value={selection.place}
                onChange={(event) => set({ place: event.target.value })}
              >
                <option value="">all places</option>
                {places.map((path) => (
                  <option key={path}>{path}</option>
                ))}
              </select>
            </label>
            <Field
              label="Of it"
              hint="words that have to occur; empty: all"
              value={selection.search}
              onChange={(search) => set({ search })}
            />
            {i > 0 && (
              <Button className="mb-2.5" onClick={() => onChange(selections.filter((_, other) => other !== i))}>
                Not these
              </Button>
            )}
          </div>
        );
      })}
      <Button className="mb-2.5" onClick={() => onChange([...selections, { search: '', place: '' }])}>
        And others
      </Button>
    </>
  );
}
