import type { ReactNode } from 'react';

interface Props {
  readonly title: string;
  readonly says?: ReactNode;
  readonly tools?: ReactNode;
  readonly children: ReactNode;
}

/** A screen: its title in the title face, one line that says how things stand, its tools, its sheet. */
export function Page({ title, says, tools, children }: Props) {
  return (
    <main className="flex min-h-0 min-w-0 flex-1 flex-col overflow-hidden px-4.5 pt-3.5" id="sheet">
      <div className="mb-2 flex flex-wrap items-center gap-x-3 gap-y-1.5">
        <h1 className="font-title text-[23px] font-semibold whitespace-nowrap">{title}</h1>
        <p className="min-w-0 flex-1 truncate text-ink-2">{says}</p>
        {tools}
      </div>
      {children}
    </main>
  );
}

/** Name and value, as the leaves list them. */
export function Facts({ rows }: { readonly rows: readonly (readonly [string, ReactNode])[] }) {
  return (
    <dl>
      {rows.map(([name, value]) => (
        <div key={name} className="flex min-h-[27px] items-baseline gap-3 border-b border-rule py-1">
          <dt className="w-24 shrink-0 text-ink-2">{name}</dt>
          <dd className="min-w-0 flex-1 break-words">{value}</dd>
        </div>
      ))}
    </dl>
  );
}
