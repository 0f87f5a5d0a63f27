/** Changes of definitions, field by field: of a draft, or between two versions. */
import type { ItemChange } from '@wide-ledger/contract';
import { useVirtualizer } from '@tanstack/react-virtual';
import { useMemo, useRef } from 'react';

const WHAT: Readonly<Record<ItemChange['what'], string>> = { new: 'new', changed: 'changed', retired: 'retired' };

type Line =
  | { readonly item: ItemChange }
  | { readonly field: ItemChange['fields'][number]; readonly of: string; readonly what: ItemChange['what'] };

/** @param extra what stands at the end of an item's line. */
export function Items({
  items,
  total,
  extra,
  narrow = false,
}: {
  readonly items: readonly ItemChange[];
  readonly total: number;
  readonly extra?: (item: ItemChange) => React.ReactNode;
  /** In a leaf: less room for what stands before the values. */
  readonly narrow?: boolean;
}) {
  const lines = useMemo(
    () =>
      items.flatMap((item): Line[] => [
        { item },
        ...item.fields.map((field) => ({ field, of: `${item.kind} ${item.id}`, what: item.what })),
      ]),
    [items],
  );
  const box = useRef<HTMLDivElement>(null);
  const virtual = useVirtualizer({
    count: lines.length,
    getScrollElement: () => box.current,
    estimateSize: () => 28,
    overscan: 20,
  });
  return (
    <div ref={box} className="min-h-0 flex-1 overflow-y-auto" tabIndex={0} aria-label="Changes" role="group">
      <div className="relative" style={{ height: virtual.getTotalSize() }}>
        {virtual.getVirtualItems().map(({ index, start }) => {
          const line = lines[index]!;
          return (
            <div
              key={index}
              className="absolute inset-x-0 flex h-7 items-center gap-3 border-b border-rule"
              style={{ transform: `translateY(${start}px)` }}
            >
              {'item' in line ? (
                <>
                  <span className={`${narrow ? 'w-12' : 'w-16'} shrink-0 pl-1.5 text-ink-2`}>{line.item.kind}</span>
                  <b className="figure min-w-0 flex-1 truncate">{line.item.name}</b>
                  <span className={line.item.what === 'retired' ? 'text-madder' : 'text-ochre'}>
                    {WHAT[line.item.what]}
                  </span>
                  {extra?.(line.item)}
                </>
              ) : (
                <>
                  <span className={narrow ? 'w-0' : 'w-16'} />
                  <span className={`${narrow ? 'w-24' : 'w-44'} shrink-0 truncate text-ink-2`}>{line.field.title}</span>
                  <span className="min-w-0 flex-1 truncate" title={`${said(line.field.from)} → ${said(line.field.to)}`}>
                    {line.what === 'changed' && (
                      <>
                        <span className="text-ink-2">{said(line.field.from)}</span> →{' '}
                      </>
                    )}
                    {said(line.what === 'retired' ? line.field.from : line.field.to)}
                  </span>
                </>
              )}
            </div>
          );
        })}
      </div>
      {items.length < total && (
        <p className="py-2 text-ink-2">
          The first {items.length} of {total}.
        </p>
      )}
    </div>
  );
}

const said = (value: unknown): string => String(value);
