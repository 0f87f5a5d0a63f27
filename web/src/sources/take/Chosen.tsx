/** What was chosen, as a small sheet: names, and what all of them get, before they land in the draft. */
import { tagName, type SourceKind } from '@wide-ledger/contract';
import { nameIn } from '@wide-ledger/core';
import { useState } from 'react';
import { pathOf } from '../../configuration/form/DefinitionForm.tsx';
import { useDefinitions, useEdit } from '../../configuration/drafting.ts';
import { Button } from '../../controls/Button.tsx';
import { Failure } from '../../controls/States.tsx';
import { Leaf } from '../../frame/Leaf.tsx';
import { Field } from '../../controls/Field.tsx';
import { labelsByPattern, labelsProblem, partsOf } from './namePattern.ts';
import type { Choice } from './choice.ts';
import { keyOf, proposedNames, taking } from './proposals.ts';

/** So many are sent in one edit. */
const MOST_SHOWN = 300;

interface Props {
  readonly source: number;
  readonly kind: SourceKind;
  readonly choices: readonly Choice[];
  readonly onClose: () => void;
  readonly onTaken: (count: number) => void;
}

export function Chosen({ source, kind, choices, onClose, onTaken }: Props) {
  const edit = useEdit();
  const { data: places = [] } = useDefinitions('place');
  const { data: paces = [] } = useDefinitions('pace');
  const [place, setPlace] = useState('');
  const [pace, setPace] = useState('');
  const [typed, setTyped] = useState<ReadonlyMap<string, string>>(new Map());
  const [pattern, setPattern] = useState('');
  const [labels, setLabels] = useState('');
  const unlabelled = labelsProblem(labels);
  const proposed = proposedNames(choices, pattern);
  const names = choices.map((choice, i) => typed.get(keyOf(choice)) ?? proposed[i]!);
  const wrong = names.map((name, i) => !tagName.safeParse(name).success || names.indexOf(name) !== i);
  const take = (): void => {
    const common = { source, place: place === '' ? null : Number(place), pace: pace === '' ? null : Number(pace) };
    edit.mutate(
      choices.map((choice, i) =>
        taking(kind, choice, { name: names[i]!, labels: labelsByPattern(labels, choice) }, common),
      ),
      { onSuccess: () => onTaken(choices.length) },
    );
  };
  const select = (label: string, value: string, set: (value: string) => void, options: [number, string][]) => (
    <label className="mb-1.5 flex items-center gap-2">
      <span className="w-12 text-ink-2">{label}</span>
      <select
        className="h-7 min-w-0 flex-1 rounded-paper border border-edge bg-paper px-1"
        value={value}
        onChange={(event) => set(event.target.value)}
      >
        <option value="">none</option>
        {options
          .sort(([, a], [, b]) => a.localeCompare(b, 'en'))
          .map(([id, name]) => (
            <option key={id} value={id}>
              {name}
            </option>
          ))}
      </select>
    </label>
  );
  return (
    <Leaf
      title={choices.length === 1 ? '1 tag' : `${choices.length} tags`}
      below="to be taken into the draft"
      onClose={onClose}
    >
      {select(
        'Place',
        place,
        setPlace,
        places.filter(({ body }) => body).map(({ id }) => [id, pathOf(id, places)]),
      )}
      {select(
        'Pace',
        pace,
        setPace,
        paces.flatMap(({ id, body }) => (body ? [[id, nameIn(body)] as [number, string]] : [])),
      )}
      {choices[0] && (
        <Field
          label="Name pattern"
          hint={partsOf(choices[0])
            .map(([place, is]) => `${place} ${is}`)
            .join(' · ')}
          value={pattern}
          onChange={setPattern}
        />
      )}
      {choices[0] && (
        <Field
          label="Labels"
          hint={labelled(labelsByPattern(labels, choices[0])) || 'by which they are found, such as meter={2}; line=A'}
          value={labels}
          onChange={setLabels}
        />
      )}
      {unlabelled !== null && <p className="text-madder">{unlabelled}</p>}
      <ul className="mt-2 border-t border-rule" aria-label="Names">
        {choices.slice(0, MOST_SHOWN).map((choice, i) => (
          <li key={keyOf(choice)} className="border-b border-rule py-1">
            <input
              aria-label={`Name of ${[...choice.path, choice.node.name].join(' / ')} ${choice.element}`}
              aria-invalid={wrong[i]}
              className={`figure h-7 w-full rounded-paper border bg-paper px-1.5 ${wrong[i] ? 'border-madder' : 'border-edge'}`}
              value={names[i]}
              onChange={(event) => setTyped(new Map(typed).set(keyOf(choice), event.target.value))}
            />
            <span className="block truncate text-ink-2" title={choice.node.node}>
              {[choice.node.typeWords, choice.node.unit, choice.element].filter((part) => part !== '').join(' · ')}
            </span>
          </li>
        ))}
      </ul>
      {choices.length > MOST_SHOWN && (
        <p className="mt-1 text-ink-2">and {choices.length - MOST_SHOWN} more, named alike.</p>
      )}
      {wrong.some(Boolean) && (
        <p className="mt-2 text-madder">A name is used twice, or holds what names may not: letters, digits, . - _</p>
      )}
      {edit.error && <Failure error={edit.error} />}
      <Button
        main
        className="mt-3"
        disabled={edit.isPending || wrong.some(Boolean) || unlabelled !== null}
        onClick={take}
      >
        Take into the draft
      </Button>
    </Leaf>
  );
}

const labelled = (labels: Readonly<Record<string, string>>): string =>
  Object.entries(labels)
    .map(([name, value]) => `${name}=${value}`)
    .join('; ');
