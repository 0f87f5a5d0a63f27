/** A tag's formula and its inputs: read while it is typed, with what is odd about its units, and tried before it is in force. */
import {
  FORMULA_FUNCTIONS,
  Formula,
  INPUT_FUNCTIONS,
  OWN_VALUE,
  inputsIn,
  nameIn,
  type Body,
  type Plain,
} from '@wide-ledger/core';
import { X } from 'lucide-react';
import { useEffect, useId, useState } from 'react';
import { FindTag } from '../controls/FindTag.tsx';
import { useDefinitions, type Standing } from '../configuration/drafting.ts';
import { TryFormula } from './TryFormula.tsx';

interface Props {
  readonly standing: Standing;
  readonly onSet: (field: 'formula' | 'inputs', to: Plain) => void;
}

interface Input {
  readonly name: string;
  /** Null: nobody has said yet which tag that is. */
  readonly tag: Body | null;
}

const textIn = (body: Body | null, field: string): string => {
  const value = body?.[field];
  return typeof value === 'string' ? value : '';
};

function readOr(text: string, isText: (input: string) => boolean): Formula | string | null {
  if (text.trim() === '') return null;
  try {
    return Formula.read(text, isText);
  } catch (error) {
    return (error as Error).message;
  }
}

export function FormulaField({ standing, onSet }: Props) {
  const id = useId();
  const { body } = standing;
  const kept = textIn(body, 'formula');
  const [typed, setTyped] = useState<string | null>(null);
  const text = typed ?? kept;
  const named = new Map(body ? inputsIn(body) : []);
  const { data: tags = [] } = useDefinitions('tag', [...named.values()]);
  const bodyOf = (name: string): Body | null => {
    const found = tags.find((one) => one.id === named.get(name));
    return found?.body ?? found?.inForce ?? null;
  };
  const formula = readOr(text, (input) => bodyOf(input)?.type === 'text');
  const isRead = typeof body?.source === 'number';
  const used = formula instanceof Formula ? formula.inputs : [];
  const inputs = [...new Set([...named.keys(), ...used])]
    .filter((name) => !(isRead && name === OWN_VALUE))
    .map((name): Input => ({ name, tag: bodyOf(name) }));
  const units = useOddUnits(
    formula,
    (name) => textIn(name === OWN_VALUE ? body : bodyOf(name), 'unit'),
    textIn(body, 'unit'),
  );
  const finish = (): void => {
    if (typed === null) return;
    setTyped(null);
    if (typed !== kept) onSet('formula', typed.trim() === '' ? null : typed.trim());
  };
  const setInput = (name: string, tag: number | null): void => {
    const rest = [...named].filter(([other]) => other !== name);
    onSet('inputs', Object.fromEntries(tag === null ? rest : [...rest, [name, tag]]));
  };
  const inForce = textIn(standing.inForce, 'formula');
  const tried =
    formula instanceof Formula ? formula.inputs.map((name) => nameIn(name === OWN_VALUE ? body : bodyOf(name))) : [];
  // What is archived of a tag with a formula has gone through it already.
  const canTry = formula instanceof Formula && tried.length > 0 && tried.every(Boolean) && !(isRead && inForce !== '');
  return (
    <fieldset className="mt-2 mb-1 min-w-0 border-t border-rule pt-2" data-testid="formula">
      <legend className="pr-2 text-ink-2">Formula</legend>
      <textarea
        id={`${id}-text`}
        aria-label="Formula"
        aria-invalid={typeof formula === 'string'}
        aria-describedby={`${id}-said`}
        rows={Math.min(8, Math.max(2, text.split('\n').length))}
        spellCheck={false}
        className={`figure w-full rounded-paper border bg-paper px-1.5 py-0.5 ${typeof formula === 'string' ? 'border-madder' : 'border-edge'}`}
        placeholder={isRead ? 'none: value as it is' : 'none: values come from outside'}
        value={text}
        onChange={(event) => setTyped(event.target.value)}
        onBlur={finish}
        onKeyDown={(event) => {
          if (event.key === 'Enter' && (event.ctrlKey || event.metaKey)) finish();
          if (event.key === 'Escape' && typed !== null) {
            event.stopPropagation();
            setTyped(null);
          }
        }}
      />
      <div id={`${id}-said`} aria-live="polite">
        {typeof formula === 'string' && <p className="text-madder">{formula}</p>}
        {units.map((sentence) => (
          <p key={sentence} className="text-ochre">
            {sentence}
          </p>
        ))}
        {standing.inForce && inForce !== kept && <p className="text-ochre">in force: {inForce || 'none'}</p>}
      </div>
      {isRead && text !== '' && <p className="text-ink-2">{OWN_VALUE}: what its source holds, scaled.</p>}
      {inputs.map(({ name, tag }) => (
        <InputRow
          key={name}
          id={`${id}-${name}`}
          name={name}
          tag={tag}
          isUsed={used.includes(name)}
          without={nameIn(body)}
          onSet={(to) => setInput(name, to)}
        />
      ))}
      <WhatThereIs />
      {canTry && <TryFormula formula={formula} tags={tried} />}
    </fieldset>
  );
}

interface RowProps {
  readonly id: string;
  readonly name: string;
  readonly tag: Body | null;
  readonly isUsed: boolean;
  /** The tag itself, which it cannot be. */
  readonly without: string;
  readonly onSet: (tag: number | null) => void;
}

function InputRow({ id, name, tag, isUsed, without, onSet }: RowProps) {
  return (
    <div className="mt-1 flex items-center gap-2" data-input={name}>
      <span className="figure w-26 shrink-0 truncate" title={name}>
        {name}
      </span>
      {tag ? (
        <>
          <span className="min-w-0 flex-1 truncate">
            <span className="figure">{nameIn(tag)}</span>{' '}
            <span className="text-ink-2">{isUsed ? textIn(tag, 'unit') : 'not used'}</span>
          </span>
          <button
            type="button"
            aria-label={`${name} is another tag`}
            className="px-1.5 py-1 text-ink-2 hover:text-ink"
            onClick={() => onSet(null)}
          >
            <X size={13} aria-hidden />
          </button>
        </>
      ) : (
        <FindTag
          id={id}
          label={`Which tag is ${name}?`}
          placeholder="which tag is that?"
          without={[without]}
          className="h-7 min-w-0 flex-1 rounded-paper border border-ochre bg-paper px-1.5"
          onFind={(found) => onSet(found.id)}
        />
      )}
    </div>
  );
}

/** What can be said in a formula, folded away. */
const WhatThereIs = () => (
  <details className="mt-1.5 text-ink-2">
    <summary className="cursor-pointer hover:text-ink">What can be said in a formula</summary>
    <p className="mt-1">
      <span className="figure">+ − * / % ^ &lt; &lt;= == != &gt;= &gt; and or not ( )</span>, numbers, texts in quotes,
      and <span className="figure">condition ? one : other</span>. Names stand for tags: the last value that each has by
      then.
    </p>
    <dl className="mt-1 grid grid-cols-[auto_1fr] gap-x-2">
      {[
        ...Object.entries(INPUT_FUNCTIONS),
        ...[...FORMULA_FUNCTIONS].map(([name, { says }]) => [name, says] as const),
      ].map(([name, says]) => (
        <div key={name} className="contents">
          <dt className="figure text-ink">{name}(…)</dt>
          <dd>{says}</dd>
        </div>
      ))}
    </dl>
  </details>
);

/** Let the hand rest before the units are looked at. Milliseconds. */
const REST = 200;

function useOddUnits(
  formula: Formula | string | null,
  unitOf: (input: string) => string,
  into: string,
): readonly string[] {
  const [odd, setOdd] = useState<readonly string[]>([]);
  const text = formula instanceof Formula ? formula.text : '';
  const units = formula instanceof Formula ? formula.inputs.map((name): [string, string] => [name, unitOf(name)]) : [];
  const asked = JSON.stringify([text, units, into]);
  useEffect(() => {
    const [wanted, given, unit] = JSON.parse(asked) as [string, [string, string][], string];
    if (wanted === '') {
      setOdd([]);
      return;
    }
    let isPast = false;
    const known = new Map(given);
    const timer = setTimeout(() => {
      void import('@wide-ledger/core/units')
        .then(({ measureFormula }) => measureFormula(wanted, (name) => known.get(name) ?? '', unit))
        .then((found) => {
          if (!isPast) setOdd(found);
        });
    }, REST);
    return () => {
      isPast = true;
      clearTimeout(timer);
    };
  }, [asked]);
  return odd;
}
