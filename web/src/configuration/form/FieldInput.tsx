/** One field by its schema: text, number, choice, yes or no, or one of several shapes. */
import type { FieldSchema } from '@wide-ledger/contract';
import { isObject, type Body, type Plain } from '@wide-ledger/core';
import { useState } from 'react';
import type { FieldProps } from './fieldProps.ts';
import { ListInput } from './ListInput.tsx';
import { SecretInput } from './SecretInput.tsx';
import { acceptsNull, isOfType, shapesOf } from './shapes.ts';
import { typedNumber } from '../../controls/typedNumber.ts';

const LOOK = 'h-7 w-full rounded-paper border border-edge bg-paper px-1.5';

/** The value that tells one shape of a union from the others. */
const kindOf = (shape: FieldSchema): string => String(shape.properties?.kind?.const ?? '');

export function FieldInput(props: FieldProps) {
  const { schema } = props;
  const shapes = shapesOf(schema);
  const [shape] = shapes;
  if (shapes.length > 1 && shapes.every(({ properties }) => properties?.kind)) return <ShapeInput {...props} />;
  if (schema.secret ?? shape.secret) return <SecretInput {...props} />;
  if (shape.enum) return <ChoiceInput {...props} choices={shape.enum.map(String)} />;
  if (isOfType(shape, 'boolean')) return <YesNoInput {...props} />;
  if (isOfType(shape, 'number', 'integer')) return <TypedInput {...props} numeric />;
  if (isOfType(shape, 'array')) return <ListInput {...props} />;
  if (isOfType(shape, 'object')) return <ObjectInput {...props} shape={shape} />;
  if (schema.long) return <LongInput {...props} />;
  return <TypedInput {...props} numeric={false} />;
}

function ChoiceInput({ id, value, differs, onSet, choices }: FieldProps & { readonly choices: readonly string[] }) {
  return (
    <select
      id={id}
      className={LOOK}
      value={differs ? 'differs' : String((value as string | undefined) ?? '')}
      onChange={(event) => onSet(event.target.value)}
    >
      {differs && <option value="differs">differs</option>}
      {choices.map((choice) => (
        <option key={choice}>{choice}</option>
      ))}
    </select>
  );
}

function YesNoInput({ id, value, differs, onSet }: FieldProps) {
  return (
    <select
      id={id}
      className={LOOK}
      value={differs ? 'differs' : value === undefined ? '' : value ? 'yes' : 'no'}
      onChange={(event) => onSet(event.target.value === '' ? undefined : event.target.value === 'yes')}
    >
      {differs && <option value="differs">differs</option>}
      {value === undefined && <option value="">not said</option>}
      <option>yes</option>
      <option>no</option>
    </select>
  );
}

/** Texts that an input offers to be picked. */
export function Offered({ id, texts }: { readonly id: string; readonly texts: readonly string[] }) {
  return (
    <datalist id={id}>
      {texts.map((text) => (
        <option key={text} value={text} />
      ))}
    </datalist>
  );
}

/** Written into the draft when the field is left, or by Enter; Escape takes it back. */
function TypedInput({
  id,
  schema,
  value,
  differs,
  none,
  offered,
  onSet,
  numeric,
}: FieldProps & { readonly numeric: boolean }) {
  const shown = typeof value === 'string' || typeof value === 'number' ? String(value) : '';
  const [typed, setTyped] = useState<string | null>(null);
  const wrong = numeric && typed !== null && typedNumber(typed) === null;
  const finish = (): void => {
    if (typed === null || wrong) return;
    setTyped(null);
    if (typed === shown && !differs) return;
    // A text that may not be empty is, emptied, not said.
    if (typed.trim() === '' && (numeric || acceptsNull(schema) || (schema.minLength ?? 0) > 0)) onSet(none);
    else onSet(numeric ? typedNumber(typed)! : typed);
  };
  return (
    <>
      <input
        id={id}
        className={`${LOOK} ${numeric ? 'figure' : ''} ${wrong ? 'border-madder' : ''}`}
        inputMode={numeric ? 'decimal' : undefined}
        aria-invalid={wrong}
        placeholder={differs ? 'differs' : (schema.description ?? '')}
        list={offered && `${id}-offered`}
        value={typed ?? shown}
        onChange={(event) => setTyped(event.target.value)}
        onBlur={finish}
        onKeyDown={(event) => {
          if (event.key === 'Enter') finish();
          if (event.key === 'Escape' && typed !== null) {
            event.stopPropagation();
            setTyped(null);
          }
        }}
      />
      {offered && <Offered id={`${id}-offered`} texts={offered} />}
      {wrong && <p className="text-madder">This is no number.</p>}
    </>
  );
}

/** A text of several lines, written into the draft when the field is left; Escape takes it back. */
function LongInput({ id, schema, value, differs, onSet }: FieldProps) {
  const shown = typeof value === 'string' ? value : '';
  const [typed, setTyped] = useState<string | null>(null);
  return (
    <textarea
      id={id}
      rows={Math.min(12, Math.max(3, (typed ?? shown).split('\n').length))}
      spellCheck={false}
      className="figure w-full rounded-paper border border-edge bg-paper px-1.5"
      placeholder={differs ? 'differs' : (schema.description ?? '')}
      value={typed ?? shown}
      onChange={(event) => setTyped(event.target.value)}
      onBlur={() => {
        if (typed !== null && (typed !== shown || differs)) onSet(typed);
        setTyped(null);
      }}
      onKeyDown={(event) => {
        if (event.key !== 'Escape' || typed === null) return;
        event.stopPropagation();
        setTyped(null);
      }}
    />
  );
}

/** One of several shapes, told apart by their kind, with the fields of the chosen one. */
function ShapeInput({ id, schema, value, differs, onSet }: FieldProps) {
  const shapes = shapesOf(schema);
  const body: Body = isObject(value) ? value : {};
  const chosen = shapes.find((shape) => kindOf(shape) === body.kind);
  const choose = (kind: string): void => {
    if (kind === '') onSet(undefined);
    const shape = shapes.find((one) => kindOf(one) === kind);
    if (!shape) return;
    const fields = Object.entries(shape.properties ?? {}).filter(([name]) => name !== 'kind');
    onSet({ kind, ...Object.fromEntries(fields.map(([name, field]) => [name, (field.default as Plain) ?? 0])) });
  };
  return (
    <>
      <select
        id={id}
        className={LOOK}
        value={differs ? 'differs' : String((body.kind as string | undefined) ?? '')}
        onChange={(event) => choose(event.target.value)}
      >
        {differs && <option value="differs">differs</option>}
        {!differs && body.kind === undefined && <option value="">not said</option>}
        {shapes.map((shape) => (
          <option key={kindOf(shape)}>{kindOf(shape)}</option>
        ))}
      </select>
      {Object.entries(chosen?.properties ?? {})
        .filter(([name]) => name !== 'kind')
        .map(([name, field]) => (
          <span key={name} className="mt-1 flex items-center gap-2">
            <label htmlFor={`${id}-${name}`} className="text-ink-2">
              {field.title ?? name}
            </label>
            <FieldInput
              id={`${id}-${name}`}
              schema={field}
              value={body[name]}
              differs={false}
              none={null}
              onSet={(to) => onSet({ ...body, [name]: to ?? 0 })}
            />
          </span>
        ))}
    </>
  );
}

/** An object that is not there yet, and names of states by their numbers, a line each. */
function ObjectInput({ id, shape, value, differs, begin, onSet }: FieldProps & { readonly shape: FieldSchema }) {
  const lines = isObject(value)
    ? Object.entries(value).map(([number, name]) => `${number} ${String(name as string)}`)
    : [];
  const [typed, setTyped] = useState<string | null>(null);
  if (shape.properties && Object.keys(shape.properties).length > 0) {
    const fields = Object.entries(shape.properties).filter(
      ([, field]) => field.default !== undefined || firstOf(field) !== undefined,
    );
    return (
      <button
        id={id}
        type="button"
        className="h-7 rounded-paper border border-rule bg-raised px-2 hover:border-edge"
        onClick={() =>
          onSet(
            begin ??
              Object.fromEntries(fields.map(([name, field]) => [name, (field.default ?? firstOf(field)) as Plain])),
          )
        }
      >
        {differs ? 'differs: set for all' : 'none: set one'}
      </button>
    );
  }
  return (
    <textarea
      id={id}
      rows={Math.max(1, lines.length)}
      className="figure w-full rounded-paper border border-edge bg-paper px-1.5"
      placeholder={differs ? 'differs' : '0 closed'}
      value={typed ?? lines.join('\n')}
      onChange={(event) => setTyped(event.target.value)}
      onBlur={() => {
        if (typed === null) return;
        const entries = typed
          .split('\n')
          .map((line) => /^\s*(\S+)\s+(.+?)\s*$/.exec(line))
          .flatMap((found) => (found ? [[found[1]!, found[2]!] as const] : []));
        setTyped(null);
        onSet(entries.length === 0 ? null : Object.fromEntries(entries));
      }}
    />
  );
}

/** Something to begin with in a field without a default: the first choice, or the least number. */
function firstOf(schema: FieldSchema): Plain | undefined {
  if (schema.enum) return schema.enum[0];
  if (isOfType(schema, 'number', 'integer')) return Math.max(0, schema.minimum ?? 0);
  return undefined;
}
