/** Families: alike tags described once. What a change makes of each of their tags is seen before it is taken. */
import type { FamilyBody } from '@wide-ledger/contract';
import { nameIn, type Family } from '@wide-ledger/core';
import { useMutation } from '@tanstack/react-query';
import { useState } from 'react';
import { useDefinitions, useEdit, type Standing } from '../configuration/drafting.ts';
import { Button } from '../controls/Button.tsx';
import { Field } from '../controls/Field.tsx';
import { Failure } from '../controls/States.tsx';
import { showNumber } from '../controls/values.ts';
import { Leaf } from '../frame/Leaf.tsx';
import { AskSources } from './AskSources.tsx';
import { titleIn, type SheetColumn } from './columns.ts';
import { familyEffects, type AmongTags, type FamilyEffects, type FamilyRow } from './family.ts';
import { Troubles } from './Troubles.tsx';
import { FIRST_PATTERN, PatternForm, isBegun, saidIn, type PatternText } from './Pattern.tsx';

interface Props extends AmongTags {
  readonly onClose: () => void;
}

const NEW = 'new';
/** Tags with something to say of them that are listed. */
const MOST_SHOWN = 200;

const familyIn = ({ body }: Standing): FamilyBody => body as unknown as FamilyBody;

const patternOf = ({ cells, roster, way }: FamilyBody): PatternText => ({
  cells: Object.entries(cells).map(([key, pattern]) => ({ key, pattern })),
  variables: roster,
  way,
});

const familyOf = (pattern: PatternText): Family => ({
  cells: Object.fromEntries(saidIn(pattern).map(({ key, pattern: text }) => [key, text])),
  roster: pattern.variables,
  way: pattern.way,
});

export function FamiliesLeaf({ onClose, ...among }: Props) {
  const { data = [], error } = useDefinitions('family');
  const families = data.filter(({ body }) => body !== null);
  const [chosen, setChosen] = useState<number | typeof NEW>(NEW);
  const family = families.find(({ id }) => id === chosen);
  return (
    <Leaf title="Families" below="alike tags, described once" onClose={onClose}>
      {error && <Failure error={error} />}
      <label className="mb-2 block">
        Family
        <select
          className="mt-1 block h-8 w-full rounded-paper border border-edge bg-paper px-1"
          value={String(chosen)}
          onChange={(event) => setChosen(event.target.value === NEW ? NEW : Number(event.target.value))}
        >
          <option value={NEW}>a new one</option>
          {families.map(({ id, body }) => (
            <option key={id} value={id}>
              {nameIn(body)}
            </option>
          ))}
        </select>
      </label>
      <OneFamily key={chosen} family={family ?? null} among={among} onTaken={setChosen} />
    </Leaf>
  );
}

interface OneProps {
  /** Null: a new one. */
  readonly family: Standing | null;
  readonly among: AmongTags;
  readonly onTaken: (id: number) => void;
}

function OneFamily({ family, among, onTaken }: OneProps) {
  const [name, setName] = useState(nameIn(family?.body));
  const [pattern, setPattern] = useState(family ? patternOf(familyIn(family)) : FIRST_PATTERN);
  const [effects, setEffects] = useState<FamilyEffects | null>(null);
  const [wrong, setWrong] = useState<string | null>(null);
  const edit = useEdit();
  const change = (to: PatternText): void => {
    setPattern(to);
    setEffects(null);
    setWrong(null);
  };
  const look = (): void => {
    try {
      setEffects(familyEffects(family?.id ?? null, family && familyIn(family), familyOf(pattern), among));
      setWrong(null);
    } catch (error) {
      setWrong((error as Error).message);
    }
  };
  const take = useMutation({
    mutationFn: async (found: FamilyEffects): Promise<number> => {
      const body = { ...familyOf(pattern), name: name.trim() };
      if (family) {
        // In one step: a family that changed without its tags would take all of them for changed by hand.
        await edit.mutateAsync([{ kind: 'family', id: family.id, set: body }, ...found.changes(family.id)]);
        return family.id;
      }
      const { created } = await edit.mutateAsync([{ kind: 'family', create: body }]);
      const id = created[0]!;
      await edit.mutateAsync(found.changes(id));
      return id;
    },
    onSuccess: (id) => {
      setEffects(null);
      onTaken(id);
    },
  });
  return (
    <div>
      {take.error && <Failure error={take.error} />}
      <Field label="Name" value={name} onChange={setName} />
      <PatternForm columns={among.columns} pattern={pattern} onPattern={change} />
      {wrong && (
        <p role="status" className="text-madder">
          {wrong}
        </p>
      )}
      <Button disabled={!isBegun(pattern) || name.trim() === ''} onClick={look}>
        See what becomes of its tags
      </Button>
      {effects && (
        <Effects
          effects={effects}
          columns={among.columns}
          isTaking={take.isPending}
          onTake={() => take.mutate(effects)}
        />
      )}
    </div>
  );
}

interface EffectsProps {
  readonly effects: FamilyEffects;
  readonly columns: readonly SheetColumn[];
  readonly isTaking: boolean;
  readonly onTake: () => void;
}

function Effects({ effects: { rows }, columns, isTaking, onTake }: EffectsProps) {
  const count = (does: FamilyRow['does']): number => rows.filter((row) => row.does === does).length;
  const telling = rows.filter(
    ({ does, exceptions }) => does === 'refused' || does === 'leaves' || exceptions.length > 0,
  );
  const taken = rows.length - count('refused');
  return (
    <div data-testid="family-effects">
      <p role="status" className="mt-3">
        {showNumber(count('new'))} new, {showNumber(count('changed'))} changed, {showNumber(count('same'))} as they are
        {count('leaves') > 0 && <>, {showNumber(count('leaves'))} to be retired</>}
        {count('refused') > 0 && <span className="text-madder">, {showNumber(count('refused'))} cannot be taken</span>}.
      </p>
      {telling.length > 0 && (
        <ul aria-label="Tags with something to say of them" className="mt-1 border-t border-rule">
          {telling.slice(0, MOST_SHOWN).map(({ name, does, exceptions, troubles }) => (
            <li key={name} className="border-b border-rule py-1">
              <span className="figure">{name}</span>
              {does === 'leaves' && <span className="text-ink-2"> is not in the roster any more</span>}
              {exceptions.map(({ key, holds }) => (
                <span key={key} className="block text-ochre">
                  {titleIn(columns, key)} stays {holds === '' ? 'empty' : holds}: set by hand
                </span>
              ))}
              <Troubles troubles={troubles} columns={columns} />
            </li>
          ))}
        </ul>
      )}
      <AskSources bodies={rows.flatMap(({ does, body }) => (body && does !== 'same' ? [body] : []))} />
      <Button main className="mt-3" disabled={taken === 0 || isTaking} onClick={onTake}>
        {isTaking ? 'Taking it …' : 'Take the family into the draft'}
      </Button>
    </div>
  );
}
