/** The draft bar: there while a draft differs from what is in force. */
import { useGo } from '../frame/useGo.ts';
import { Button } from '../controls/Button.tsx';
import { useDrafts, useDraftSteps, useOwnDraft } from './drafting.ts';

const count = (changes: number): string => `${changes} ${changes === 1 ? 'change' : 'changes'}`;

export function DraftBar() {
  const own = useOwnDraft();
  const others = useDrafts().data?.filter(({ id }) => id !== own?.id) ?? [];
  const { undo, redo } = useDraftSteps(own);
  const go = useGo();
  if (!own && others.length === 0) return null;
  return (
    <div
      role="region"
      aria-label="Draft"
      data-testid="draft-bar"
      className="flex h-10 shrink-0 items-center gap-3 border-t border-ochre bg-raised px-4"
    >
      {own && (
        <>
          <b className="font-semibold text-ochre">{count(own.changes)} in draft</b>
          <span className="text-ink-2">not in force yet; kept on the server</span>
        </>
      )}
      <span className="min-w-0 flex-1 truncate text-ink-2">
        {others.map(({ owner, changes }) => `${owner} has ${count(changes)} in draft.`).join(' ')}
      </span>
      {own && (
        <>
          <Button disabled={undo.isPending} onClick={() => undo.mutate()}>
            Undo the last edit
          </Button>
          {own.undone > 0 && (
            <Button disabled={redo.isPending} onClick={() => redo.mutate()}>
              Make it again
            </Button>
          )}
          <Button main onClick={() => go('/draft')}>
            Review
          </Button>
        </>
      )}
    </div>
  );
}
