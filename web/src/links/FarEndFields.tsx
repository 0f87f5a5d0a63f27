/** The fields of a far end that is no site, as its schema says. */
import { OTHER_ENDS, farEndSchemaOf, type OtherEndKind } from '@wide-ledger/contract';
import type { Body, Plain } from '@wide-ledger/core';
import { FieldInput } from '../configuration/form/FieldInput.tsx';
import { objectOf } from '../configuration/form/shapes.ts';

/** What a far end begins as: what its schema says where nothing is said. */
export const begunAs = (kind: OtherEndKind): Body => ({
  kind,
  ...Object.fromEntries(
    Object.entries(farEndSchemaOf(kind).properties ?? {}).flatMap(([name, { default: given }]) =>
      given === undefined ? [] : [[name, given as Plain]],
    ),
  ),
});

interface Props {
  readonly to: Body;
  readonly onChange: (to: Body) => void;
}

export function FarEndFields({ to, onChange }: Props) {
  const schema = farEndSchemaOf(to.kind as OtherEndKind);
  return (
    <>
      <p className="mb-2 text-ink-2">{OTHER_ENDS[to.kind as OtherEndKind].says}</p>
      {Object.entries(schema.properties ?? {})
        .filter(([name]) => name !== 'kind')
        .map(([name, field]) => {
          const parts = objectOf(field);
          if (!parts) {
            return (
              <Labelled
                key={name}
                id={`far-${name}`}
                schema={field}
                value={to[name]}
                onSet={(value) => onChange({ ...to, [name]: value ?? (field.default as Plain) ?? '' })}
              />
            );
          }
          const own = (to[name] ?? {}) as Body;
          return (
            <details key={name} className="mb-2.5">
              <summary className="cursor-pointer">{field.title ?? name}</summary>
              {Object.entries(parts.properties ?? {}).map(([part, partSchema]) => (
                <Labelled
                  key={part}
                  id={`far-${name}-${part}`}
                  schema={partSchema}
                  value={part in own ? own[part] : (partSchema.default as Plain)}
                  onSet={(value) => onChange({ ...to, [name]: { ...own, [part]: value ?? null } })}
                />
              ))}
            </details>
          );
        })}
    </>
  );
}

interface LabelledProps {
  readonly id: string;
  readonly schema: Parameters<typeof FieldInput>[0]['schema'];
  readonly value: Plain | undefined;
  readonly onSet: (value: Plain | undefined) => void;
}

function Labelled({ id, schema, value, onSet }: LabelledProps) {
  return (
    <div className="mb-2.5">
      <label htmlFor={id}>
        {schema.title} {schema.description && <span className="text-ink-2">{schema.description}</span>}
      </label>
      <FieldInput
        id={id}
        schema={{ ...schema, description: '' }}
        value={value}
        differs={false}
        none={undefined}
        onSet={onSet}
      />
    </div>
  );
}
