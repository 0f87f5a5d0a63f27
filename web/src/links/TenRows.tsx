/** Ten rows as another far end would get them, before anything is sent. */
import { otherEnd, type LinkTry } from '@wide-ledger/contract';
import type { Body } from '@wide-ledger/core';
import { useMutation } from '@tanstack/react-query';
import { Button } from '../controls/Button.tsx';
import { Failure } from '../controls/States.tsx';
import { post } from '../server/calls.ts';

interface Props {
  readonly to: Body;
  readonly carries: readonly object[];
  readonly naming: object;
}

export function TenRows({ to, carries, naming }: Props) {
  const tried = useMutation({ mutationFn: () => post<LinkTry>('/links/try', { to, carries, naming }) });
  return (
    <section aria-label="Ten rows" className="mt-4">
      <div className="mb-1.5 flex items-center gap-3">
        <h3 className="flex-1 font-semibold">Ten rows</h3>
        <Button disabled={!otherEnd.safeParse(to).success || tried.isPending} onClick={() => tried.mutate()}>
          Try
        </Button>
      </div>
      {tried.error && <Failure error={tried.error} />}
      {tried.data && (
        <>
          <p className="text-ink-2">{tried.data.says}</p>
          <div tabIndex={0} role="region" aria-label="Rows" className="overflow-x-auto">
            <table className={`figure text-left ${tried.data.columns.length > 2 ? 'whitespace-nowrap' : 'break-all'}`}>
              <thead>
                <tr className="border-b border-edge text-ink-2">
                  {tried.data.columns.map((column) => (
                    <th key={column} className="pr-3 font-normal">
                      {column}
                    </th>
                  ))}
                </tr>
              </thead>
              <tbody>
                {tried.data.rows.map((row, i) => (
                  <tr key={i} className="border-b border-rule">
                    {row.map((cell, column) => (
                      <td key={column} className="pr-3 align-top">
                        {cell}
                      </td>
                    ))}
                  </tr>
                ))}
              </tbody>
            </table>
          </div>
        </>
      )}
    </section>
  );
}
