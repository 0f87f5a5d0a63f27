/** One register in every type and word order: the plausible reading becomes a tag. */
import { tagName, where, type RegisterBlock } from '@wide-ledger/contract';
import type { RegisterType, WordOrder } from '@wide-ledger/core';
import { useState } from 'react';
import { useEdit } from '../../configuration/drafting.ts';
import { Button } from '../../controls/Button.tsx';
import { Failure } from '../../controls/States.tsx';
import { Leaf } from '../../frame/Leaf.tsx';
import { SHOWN, addressAt, looksMeasured, ordersOf, readingAt } from './sheet.ts';

interface Props {
  readonly source: number;
  readonly block: RegisterBlock;
  readonly bytes: Uint8Array;
  readonly index: number;
  readonly onClose: () => void;
}

interface Picked {
  readonly type: RegisterType;
  readonly order: WordOrder;
}

export function RegisterLeaf({ source, block, bytes, index, onClose }: Props) {
  const edit = useEdit();
  const [picked, setPicked] = useState<Picked | null>(null);
  const [name, setName] = useState('');
  const [unit, setUnit] = useState('');
  const [taken, setTaken] = useState<string | null>(null);
  const hex = Array.from(bytes.subarray(2 * index, 2 * index + 2), (byte) =>
    byte.toString(16).toUpperCase().padStart(2, '0'),
  );
  const take = (): void => {
    if (!picked) return;
    const { type, order } = picked;
    const whole = !type.startsWith('float');
    const address = addressAt(block, index, type, order);
    edit.mutate(
      [{ kind: 'tag', create: { name, unit, source, address, type: whole ? 'integer' : 'real', stepped: whole } }],
      {
        onSuccess: () => {
          setTaken(name);
          setPicked(null);
          setName('');
        },
      },
    );
  };
  return (
    <Leaf
      title={`${block.area} ${block.start + index}`}
      below={`${hex.join(' ')} · in every type and order`}
      onClose={onClose}
    >
      {taken && !picked && <p className="mb-3">{taken} is in the draft.</p>}
      {picked && (
        <form
          className="mb-3"
          onSubmit={(event) => {
            event.preventDefault();
            take();
          }}
        >
          <p className="figure mb-2 text-ink-2">{where(addressAt(block, index, picked.type, picked.order))}</p>
          {(
            [
              ['Name', name, setName],
              ['Unit', unit, setUnit],
            ] as const
          ).map(([label, value, set]) => (
            <label key={label} className="mb-1.5 flex items-center gap-2">
              <span className="w-12 text-ink-2">{label}</span>
              <input
                className="figure h-7 min-w-0 flex-1 rounded-paper border border-edge bg-paper px-1.5"
                value={value}
                onChange={(event) => set(event.target.value)}
              />
            </label>
          ))}
          {edit.error && <Failure error={edit.error} />}
          <Button main type="submit" className="mt-1" disabled={!tagName.safeParse(name).success || edit.isPending}>
            Take into the draft
          </Button>
        </form>
      )}
      <div role="listbox" aria-label="Readings">
        {SHOWN.flatMap((type) =>
          ordersOf(type).map((order) => {
            const value = readingAt(bytes, index, type, order);
            if (value === null) return null;
            const isPicked = picked?.type === type && picked.order === order;
            const edge = isPicked ? 'border-l-verdigris bg-paper' : 'border-l-transparent hover:bg-paper';
            const measured = looksMeasured(bytes, index, type, order);
            return (
              <div
                key={`${type} ${order}`}
                role="option"
                tabIndex={0}
                aria-selected={isPicked}
                data-reading={`${type} ${order}`}
                onClick={() => setPicked({ type, order })}
                onKeyDown={(event) => event.key === 'Enter' && setPicked({ type, order })}
                className={`flex h-7 cursor-pointer items-center gap-2 border-b border-l-[3px] border-b-rule pl-1 ${edge}`}
              >
                <span className="w-16">{type}</span>
                <span className="figure w-12 text-ink-2">{order}</span>
                <span
                  className={`figure min-w-0 flex-1 truncate text-right ${measured ? 'font-semibold text-verdigris' : ''}`}
                >
                  {value}
                </span>
              </div>
            );
          }),
        )}
      </div>
    </Leaf>
  );
}
