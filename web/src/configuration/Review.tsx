/** The review of the own draft: what it will do, what stands in its way, each change, and putting it in force. */
import type { FieldConflictOutput, Finding, ForceResult } from '@wide-ledger/contract';
import { useState } from 'react';
import { Button } from '../controls/Button.tsx';
import { Page } from '../controls/Page.tsx';
import { Empty, Failure, Skeleton } from '../controls/States.tsx';
import { Items } from './Items.tsx';
import { useDraftSteps, useEdit, useOwnDraft, useReview } from './drafting.ts';

export function Review() {
  const draft = useOwnDraft();
  const { data: review, error } = useReview(draft?.id);
  const { undo, discard, settle, force } = useDraftSteps(draft);
  const edit = useEdit();
  const [reason, setReason] = useState('');
  const [sure, setSure] = useState(false);
  const blocking = review?.findings.filter(({ severity }) => severity === 'blocks') ?? [];
  const isReady = review && blocking.length === 0 && review.conflicts.length === 0;
  return (
    <Page
      title="Draft"
      says={draft && `${draft.changes} ${draft.changes === 1 ? 'change' : 'changes'}, not in force yet`}
      tools={
        draft && (
          <>
            <Button disabled={undo.isPending} onClick={() => undo.mutate()}>
              Undo the last edit
            </Button>
            {sure ? (
              <Button onClick={() => discard.mutate(undefined, { onSuccess: () => setSure(false) })}>
                Discard all of it
              </Button>
            ) : (
              <Button onClick={() => setSure(true)}>Discard…</Button>
            )}
          </>
        )
      }
    >
      {error && <Failure error={error} />}
      {[undo, discard, settle, force].map(({ error: failure }, i) => failure && <Failure key={i} error={failure} />)}
      {force.data && !draft && <InForce result={force.data} />}
      {!draft && !force.data && (
        <Empty>
          Nothing is in draft. Choose a tag, a source, a pace or a place and change it: what you change is collected
          here, and nothing of it is in force until you say so.
        </Empty>
      )}
      {draft && !review && !error && <Skeleton rows={10} />}
      {draft && review && (
        <>
          <section aria-label="What it will do" className="mb-2">
            {review.effects.slice(0, 8).map((effect) => (
              <p key={effect}>{effect}</p>
            ))}
            {review.effects.length > 8 && <p className="text-ink-2">And {review.effects.length - 8} more.</p>}
          </section>
          <Conflicts
            conflicts={review.conflicts}
            onSettle={({ kind, id, path }, take) => settle.mutate([{ kind, id, path, take }])}
          />
          <Findings findings={review.findings} />
          <Items
            items={review.items}
            total={review.total}
            extra={({ kind, id, name }) => (
              <button
                type="button"
                className="mr-2 text-ink-2 underline hover:text-ink"
                aria-label={`take out ${name}, a ${kind}`}
                onClick={() => edit.mutate([{ kind, id, discard: true }])}
              >
                take out
              </button>
            )}
          />
          <form
            className="flex items-center gap-2 border-t border-ink/70 py-3"
            onSubmit={(event) => {
              event.preventDefault();
              force.mutate(reason, { onSuccess: () => setReason('') });
            }}
          >
            <label htmlFor="reason" className="text-ink-2">
              Why
            </label>
            <input
              id="reason"
              className="h-[30px] min-w-0 flex-1 rounded-paper border border-edge bg-raised px-2.5"
              placeholder="for whoever reads the list of versions"
              value={reason}
              onChange={(event) => setReason(event.target.value)}
            />
            <Button main type="submit" disabled={!isReady || force.isPending}>
              {force.isPending ? 'Putting in force…' : `Put ${review.total} in force`}
            </Button>
          </form>
        </>
      )}
    </Page>
  );
}

function InForce({ result: { version, results } }: { readonly result: ForceResult }) {
  return (
    <section aria-label="Result" className="mb-3">
      <p className="mb-1">
        <b className="font-semibold">Version {version} is in force.</b> {results.length}{' '}
        {results.length === 1 ? 'item' : 'items'}:
      </p>
      <ul className="max-h-96 overflow-y-auto border-t border-ink/70" tabIndex={0} aria-label="Result per item">
        {results.slice(0, 500).map(({ kind, id, name, outcome }) => (
          <li key={`${kind} ${id}`} className="flex h-7 items-center gap-3 border-b border-rule">
            <span className="w-16 pl-1.5 text-ink-2">{kind}</span>
            <span className="figure min-w-0 flex-1 truncate">{name}</span>
            <span className="text-ink-2">{outcome}, in force</span>
          </li>
        ))}
      </ul>
    </section>
  );
}

interface ConflictsProps {
  readonly conflicts: readonly FieldConflictOutput[];
  readonly onSettle: (conflict: FieldConflictOutput, take: 'mine' | 'theirs') => void;
}

function Conflicts({ conflicts, onSettle }: ConflictsProps) {
  if (conflicts.length === 0) return null;
  return (
    <section aria-label="Conflicts" className="mb-3">
      <h2 className="mb-1 font-semibold text-madder">
        {conflicts.length} {conflicts.length === 1 ? 'field was' : 'fields were'} changed by somebody else meanwhile
      </h2>
      <ul className="max-h-56 overflow-y-auto border-t border-ink/70">
        {conflicts.map((conflict) => {
          const { kind, id, name, path, title, base, mine, theirs, by } = conflict;
          const words = (value: unknown): string => String(value);
          return (
            <li key={`${kind} ${id} ${path.join('.')}`} className="flex items-center gap-3 border-b border-rule py-1">
              <span className="figure w-36 truncate">{name}</span>
              <span className="min-w-0 flex-1">
                {title || 'The whole of it'}: was {words(base)}; you have <b>{words(mine)}</b>, {by ?? 'somebody'} put{' '}
                <b>{words(theirs)}</b> in force.
              </span>
              <Button onClick={() => onSettle(conflict, 'mine')} aria-label={`Keep mine: ${name} ${title}`}>
                Keep mine
              </Button>
              <Button onClick={() => onSettle(conflict, 'theirs')} aria-label={`Take theirs: ${name} ${title}`}>
                Take theirs
              </Button>
            </li>
          );
        })}
      </ul>
    </section>
  );
}

function Findings({ findings }: { readonly findings: readonly Finding[] }) {
  if (findings.length === 0) return null;
  return (
    <section aria-label="Findings" className="mb-2">
      <ul className="max-h-40 overflow-y-auto" tabIndex={0} aria-label="What was found">
        {findings.map(({ kind, id, name, path, severity, sentence }, i) => (
          <li
            key={`${kind} ${id} ${path.join('.')} ${i}`}
            className={`mb-1 border-l-2 py-0.5 pl-3 ${severity === 'blocks' ? 'border-madder' : 'border-ochre'}`}
          >
            <b className={severity === 'blocks' ? 'text-madder' : 'text-ochre'}>
              {severity === 'blocks' ? 'Has to be mended' : 'Worth a look'}
            </b>{' '}
            {sentence.includes(name) ? '' : `${name}: `}
            {sentence}
          </li>
        ))}
      </ul>
    </section>
  );
}
