/** The states that every list and figure can be in. */
import { CallFailed } from '../server/calls.ts';

/** What happened, why, what to do; the code small behind it. */
export function Failure({ error }: { readonly error: Error }) {
  const code = error instanceof CallFailed ? (error.code ?? String(error.status)) : null;
  return (
    <p role="alert" className="my-2 border-l-2 border-madder py-1 pl-3">
      {error.message} {code && <span className="figure text-ink-2">{code}</span>}
    </p>
  );
}

/** Rows of the right height while the first answer is on its way. */
export function Skeleton({ rows }: { readonly rows: number }) {
  return (
    <div role="status" aria-busy="true" aria-label="Loading">
      {Array.from({ length: rows }, (_, i) => (
        <div key={i} className="row flex items-center">
          <div className="h-2.5 rounded-paper bg-rule" style={{ width: `${30 + ((i * 37) % 50)}%` }} />
        </div>
      ))}
    </div>
  );
}

/** Nothing here, and what to do about it. */
export function Empty({ children }: { readonly children: React.ReactNode }) {
  return <p className="py-6 text-ink-2">{children}</p>;
}
