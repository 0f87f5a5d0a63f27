/** The fields of one definition or of many, drawn from the schema of their kind. Every change goes into the draft. */
import { addressSchemaOf, schemaOf, type FieldSchema, type SourceKind } from '@wide-ledger/contract';
import { isObject, plainWords, type DefinitionKind, type FieldPath, type Plain } from '@wide-ledger/core';
import { Failure } from '../../controls/States.tsx';
import { useDefinitions, useEdit, type Standing } from '../drafting.ts';
import { useCollectorNames } from '../../server/queries.ts';
import { FormulaField } from '../../formula/FormulaField.tsx';
import { FieldInput } from './FieldInput.tsx';
import { REFERENCES } from './references.ts';
import { acceptsNull, objectOf } from './shapes.ts';
import { fieldState, setField } from './values.ts';

interface Props {
  readonly standings: readonly Standing[];
  /** Fields that are not shown: what cannot be changed here. */
  readonly without?: readonly string[];
}

/** The settings of its own that a tag has: what is not said here is as its pace has it. */
const SETTINGS = 'settings';

/** Fields in the order in which people fill them in; those of a schema that are not named come behind. */
const LEAVES_OUT = new Set(['kind']);

/** When it is changed over between two ways, and whether back. */
const CHANGES_OVER: ReadonlySet<string> = new Set(['changeOverSeconds', 'staysOver']);

/** What is computed, and of what: shown together, of one tag at a time. */
const COMPUTED: ReadonlySet<string> = new Set(['formula', 'inputs']);

export function DefinitionForm({ standings, without = [] }: Props) {
  const edit = useEdit();
  const { data: sources = [] } = useDefinitions('source');
  const [first] = standings;
  if (!first) return null;
  const addresses = addressOf(first, sources);
  const properties = { ...topProperties(schemaOf(first.kind), first.body?.kind), ...addresses };
  const isOut = (name: string): boolean =>
    LEAVES_OUT.has(name) ||
    COMPUTED.has(name) ||
    without.includes(name) ||
    // A standby has its own way, and does not change over; without a second way there is nothing to change over to.
    (CHANGES_OVER.has(name) && (typeof first.body?.standby === 'string' || !isObject(first.body?.standbyConnection))) ||
    (name === 'standbyAddress' && !(name in addresses));
  const names = Object.keys(properties).filter((name) => !isOut(name));
  return (
    <div data-testid="definition-form">
      {edit.error && <Failure error={edit.error} />}
      {names.map((name) => (
        <Field
          key={name}
          path={[name]}
          schema={properties[name]!}
          standings={standings}
          onSet={(path, to) => {
            const changes = setField(standings, path, to);
            if (changes.length > 0) edit.mutate(changes);
          }}
        />
      ))}
      {first.kind === 'tag' && standings.length === 1 && (
        <FormulaField
          key={first.id}
          standing={first}
          onSet={(field, to) => edit.mutate([{ kind: 'tag', id: first.id, set: { [field]: to } }])}
        />
      )}
    </div>
  );
}

type Properties = Readonly<Record<string, FieldSchema>>;

/** A schema's own properties, or those of its alternative of a kind. */
function topProperties(schema: FieldSchema, kind: Plain | undefined): Properties {
  const options = schema.oneOf ?? schema.anyOf ?? [];
  const option = options.find(({ properties }) => properties?.kind?.const === kind) ?? options[0];
  return schema.properties ?? option?.properties ?? {};
}

/** A tag's address as the kind of its source has them, and its standby's; nothing for what has no source. */
function addressOf({ kind, body }: Standing, sources: readonly Standing[]): Properties {
  const source = kind === 'tag' ? sources.find(({ id }) => id === body?.source) : undefined;
  const { kind: of, standby, standbyConnection } = source?.body ?? source?.inForce ?? {};
  if (typeof of !== 'string') return {};
  const address = addressSchemaOf(of as SourceKind);
  // Only a copy of the source has its tags elsewhere.
  const elsewhere = { title: 'Address by the second way', anyOf: [address, { type: 'null' }] };
  const hasTwo = typeof standby === 'string' || isObject(standbyConnection);
  return { address, ...(hasTwo ? { standbyAddress: elsewhere } : {}) };
}

interface FieldProps {
  readonly path: FieldPath;
  readonly schema: FieldSchema;
  readonly standings: readonly Standing[];
  readonly onSet: (path: FieldPath, to: Plain | undefined) => void;
}

/** Fields that hold the name of a collector. */
const NAMES_A_COLLECTOR: ReadonlySet<string> = new Set(['collector', 'standby']);

/** A field, or the fields of an object. */
function Field({ path, schema, standings, onSet }: FieldProps) {
  const name = path.at(-1)!;
  const collectors = useCollectorNames();
  const { value, differs, inForce } = fieldState(standings, path);
  const object = objectOf(schema);
  const label = schema.title ?? name;
  const isNull = value === null || value === undefined;
  if (object && !(isNull && acceptsNull(schema))) {
    return (
      <fieldset className="mt-2 mb-1 border-t border-rule pt-2">
        <legend className="pr-2 text-ink-2">{label}</legend>
        {Object.entries(object.properties ?? {})
          .filter(([field]) => !LEAVES_OUT.has(field))
          .map(([field, own]) => (
            <Field key={field} path={[...path, field]} schema={own} standings={standings} onSet={onSet} />
          ))}
      </fieldset>
    );
  }
  const reference = path.length === 1 ? REFERENCES[name] : undefined;
  return (
    <div className="mb-1.5">
      <div className="flex items-center gap-2">
        <label htmlFor={idOf(path)} className="w-26 shrink-0 text-ink-2" title={schema.description}>
          {label}
          {schema.description && schema.description.length < 4 && <span> {schema.description}</span>}
        </label>
        <div className="min-w-0 flex-1">
          {reference ? (
            <ReferenceInput
              id={idOf(path)}
              kind={reference}
              value={value}
              differs={differs}
              optional={acceptsNull(schema)}
              onSet={(to) => onSet(path, to)}
            />
          ) : (
            <FieldInput
              id={idOf(path)}
              schema={schema}
              value={value}
              differs={differs}
              offered={path.length === 1 && NAMES_A_COLLECTOR.has(name) ? collectors : undefined}
              begin={schema.beginsAs === undefined ? undefined : fieldState(standings, [schema.beginsAs]).value}
              none={path[0] === SETTINGS || !acceptsNull(schema) ? undefined : null}
              onSet={(to) => onSet(path, to)}
            />
          )}
        </div>
      </div>
      {path.length === 2 && path[0] === SETTINGS && (
        <Inherited standings={standings} path={path} onReset={() => onSet(path, undefined)} />
      )}
      {inForce && !reference && <p className="mt-0.5 pl-28 text-ochre">in force: {plainWords(path, inForce.value)}</p>}
      {inForce && reference && (
        <p className="mt-0.5 pl-28 text-ochre">
          in force: <ReferenceName kind={reference} id={inForce.value} />
        </p>
      )}
    </div>
  );
}

interface InheritedProps {
  readonly standings: readonly Standing[];
  readonly path: FieldPath;
  readonly onReset: () => void;
}

/** What the pace of the tags has for a setting, and whether they depart from it. */
function Inherited({ standings, path, onReset }: InheritedProps) {
  const { data: paces = [] } = useDefinitions('pace');
  const { value: number } = fieldState(standings, ['pace']);
  const pace = paces.find(({ id }) => id === number)?.body;
  if (!pace) return null;
  const { value, differs } = fieldState(standings, path);
  const setting = plainWords(path.slice(1), pace[path[1]!]);
  if (value === undefined && !differs) return <p className="mt-0.5 pl-28 text-ink-2">as its pace: {setting}</p>;
  return (
    <p className="mt-0.5 pl-28 text-ink-2">
      departs from its pace: {setting}{' '}
      <button type="button" className="underline hover:text-ink" onClick={onReset}>
        as the pace
      </button>
    </p>
  );
}

const idOf = (path: FieldPath): string => `field-${path.join('-')}`;

interface ReferenceProps {
  readonly id: string;
  readonly kind: DefinitionKind;
  readonly value: Plain | undefined;
  readonly differs: boolean;
  readonly optional: boolean;
  readonly onSet: (to: Plain) => void;
}

function ReferenceInput({ id, kind, value, differs, optional, onSet }: ReferenceProps) {
  const { data = [] } = useDefinitions(kind);
  const names = new Map(data.flatMap((one) => (one.body ? [[one.id, pathOf(one.id, data)] as const] : [])));
  return (
    <select
      id={id}
      className="h-7 w-full rounded-paper border border-edge bg-paper px-1"
      value={differs ? 'differs' : typeof value === 'number' ? String(value) : ''}
      onChange={(event) => onSet(event.target.value === '' ? null : Number(event.target.value))}
    >
      {differs && <option value="differs">differs</option>}
      {(optional || value === null || value === undefined) && <option value="">none</option>}
      {[...names]
        .sort(([, a], [, b]) => a.localeCompare(b, 'en'))
        .map(([number, name]) => (
          <option key={number} value={number}>
            {name}
          </option>
        ))}
    </select>
  );
}

function ReferenceName({ kind, id }: { readonly kind: DefinitionKind; readonly id: Plain | undefined }) {
  const { data = [] } = useDefinitions(kind);
  return <>{typeof id === 'number' ? pathOf(id, data) : 'none'}</>;
}

/** A definition's name; of a place with all that it lies in. */
export function pathOf(id: number, standings: readonly Pick<Standing, 'id' | 'kind' | 'body' | 'inForce'>[]): string {
  const names: string[] = [];
  const met = new Set<number>();
  let at: Plain | undefined = id;
  while (typeof at === 'number' && !met.has(at)) {
    met.add(at);
    const found = standings.find((one) => one.id === at);
    const body = found?.body ?? found?.inForce;
    if (!found || !body) break;
    names.unshift(typeof body.name === 'string' && body.name !== '' ? body.name : `number ${found.id}`);
    at = found.kind === 'place' ? body.parent : undefined;
  }
  return names.join(' / ');
}
