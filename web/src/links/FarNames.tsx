/** Names here and there side by side, before anything is carried; a single one is edited where it stands. */
import type { LinkNames } from '@wide-ledger/contract';
import { useState } from 'react';
import { showNumber } from '../controls/values.ts';

const SHOWN = 100;

interface Props {
  readonly names: LinkNames;
  /** A single name, instead of what the rules make; empty: as the rules make it. */
  readonly onName: (tag: string, name: string) => void;
}

export function FarNames({ names: { tags, problems, rows }, onName }: Props) {
  return (
    <section aria-label="Names side by side">
      <p>
        <span className="figure">{showNumber(tags)}</span> {tags === 1 ? 'name' : 'names'}
        {problems > 0 && <span className="text-madder">, {showNumber(problems)} of them cannot be carried so</span>}
      </p>
      <div
        tabIndex={0}
        role="list"
        aria-label="Names here and there"
        className="mt-1 max-h-40 overflow-y-auto border-y border-rule"
      >
        {rows.slice(0, SHOWN).map(({ tag, summary, farName, problem }) => (
          <div
            key={`${tag} ${summary}`}
            role="listitem"
            className="flex gap-2 border-b border-rule py-0.5 last:border-b-0"
          >
            <span className="figure min-w-0 flex-1 truncate">{tag}</span>
            {summary === null ? (
              <FarName key={farName} tag={tag} farName={farName} problem={problem} onName={onName} />
            ) : (
              <span
                title={problem ?? `${summary}: follows the name of its tag`}
                className={`figure min-w-0 flex-1 truncate ${problem ? 'text-madder' : 'text-ink-2'}`}
              >
                {problem ?? farName}
              </span>
            )}
          </div>
        ))}
        {tags > SHOWN && (
          <div role="listitem" className="py-0.5 text-ink-2">
            and {showNumber(tags - SHOWN)} more
          </div>
        )}
      </div>
    </section>
  );
}

interface FarNameProps extends Pick<Props, 'onName'> {
  readonly tag: string;
  readonly farName: string;
  readonly problem: string | null;
}

/** A name at the far end, which is edited where it stands. */
function FarName({ tag, farName, problem, onName }: FarNameProps) {
  const [typed, setTyped] = useState<string | null>(null);
  const finish = (): void => {
    if (typed !== null && typed.trim() !== farName) onName(tag, typed.trim());
    setTyped(null);
  };
  if (typed !== null)
    return (
      <input
        autoFocus
        aria-label={`What ${tag} is called there`}
        className="figure h-6 min-w-0 flex-1 rounded-paper border border-edge bg-paper px-1"
        value={typed}
        onChange={(event) => setTyped(event.target.value)}
        onBlur={finish}
        onKeyDown={(event) => {
          if (event.key === 'Enter') {
            // The form is not sent by it.
            event.preventDefault();
            finish();
          }
          if (event.key === 'Escape') {
            event.stopPropagation();
            setTyped(null);
          }
        }}
      />
    );
  return (
    <button
      type="button"
      className={`figure min-w-0 flex-1 truncate text-left hover:underline ${problem ? 'text-madder' : ''}`}
      title={problem ?? 'Call it otherwise'}
      onClick={() => setTyped(farName)}
    >
      {problem ?? farName}
    </button>
  );
}
