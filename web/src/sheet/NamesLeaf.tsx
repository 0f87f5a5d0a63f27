/** The names and descriptions of all tags looked through: against the rules of their places, alike, misspelt. */
import { useMemo } from 'react';
import { useDefinitions, useEdit, type Standing } from '../configuration/drafting.ts';
import { Button } from '../controls/Button.tsx';
import { Failure } from '../controls/States.tsx';
import { showNumber } from '../controls/values.ts';
import { Leaf } from '../frame/Leaf.tsx';
import { useGo } from '../frame/useGo.ts';
import { nameFindings, type NameFinding } from './names.ts';

interface Props {
  readonly standings: readonly Standing[];
  readonly onClose: () => void;
}

const NO_PLACES: readonly Standing[] = [];
/** Findings of one sort that are listed; those that are mended make room for others. */
const MOST_SHOWN = 100;
const MOST_TAGS = 5;

export function NamesLeaf({ standings, onClose }: Props) {
  const { data: places = NO_PLACES, error } = useDefinitions('place');
  const found = useMemo(() => nameFindings(standings, places), [standings, places]);
  const hasRules = places.some(({ body }) => body?.names);
  const go = useGo();
  return (
    <Leaf title="Names" below={`of ${showNumber(standings.length)} tags, with your draft`} onClose={onClose}>
      {error && <Failure error={error} />}
      <Findings
        title="Against the rules of their place"
        findings={found.againstRules}
        none={hasRules ? 'Every name keeps the rules.' : 'No place has rules for names yet.'}
      />
      <p className="mb-4 text-ink-2">
        Rules are kept at a place, for it and what lies in it.{' '}
        <button type="button" className="underline hover:text-ink" onClick={() => go('/places')}>
          To the places
        </button>
      </p>
      <Findings title="Taken for each other" findings={found.alike} none="No two names look alike." />
      <Findings
        title="Words that are likely misspelt"
        findings={found.words}
        none="No word of a description is one slip away from what is written elsewhere."
      />
    </Leaf>
  );
}

interface FindingsProps {
  readonly title: string;
  readonly findings: readonly NameFinding[];
  readonly none: string;
}

function Findings({ title, findings, none }: FindingsProps) {
  const edit = useEdit();
  const mending = findings.flatMap(({ mends }) => mends?.changes ?? []);
  return (
    <section aria-label={title} className="mb-4">
      <div className="flex items-center gap-2">
        <h3 className="min-w-0 flex-1 font-semibold">
          {title} {findings.length > 0 && <span className="figure text-madder">{showNumber(findings.length)}</span>}
        </h3>
        {mending.length > 1 && (
          <Button disabled={edit.isPending} onClick={() => edit.mutate(mending)}>
            Mend all {showNumber(mending.length)}
          </Button>
        )}
      </div>
      {edit.error && <Failure error={edit.error} />}
      {findings.length === 0 && <p className="text-ink-2">{none}</p>}
      <ul>
        {findings.slice(0, MOST_SHOWN).map(({ about, sentences, tags, mends }) => (
          <li key={about} className="border-b border-rule py-1.5">
            <div className="flex items-start gap-2">
              <span className="figure min-w-0 flex-1 break-words">{about}</span>
              {mends && (
                <Button disabled={edit.isPending} onClick={() => edit.mutate(mends.changes)}>
                  {mends.says}
                </Button>
              )}
            </div>
            {sentences.map((sentence) => (
              <span key={sentence} className="block text-ink-2">
                {sentence}
              </span>
            ))}
            {tags.length > 0 && tags[0] !== about && !about.startsWith(`${tags[0]!}, `) && (
              <span className="block text-ink-2">
                in {tags.slice(0, MOST_TAGS).join(', ')}
                {tags.length > MOST_TAGS && <> and {showNumber(tags.length - MOST_TAGS)} more</>}
              </span>
            )}
          </li>
        ))}
      </ul>
      {findings.length > MOST_SHOWN && (
        <p className="text-ink-2">and {showNumber(findings.length - MOST_SHOWN)} more</p>
      )}
    </section>
  );
}
