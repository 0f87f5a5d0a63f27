import { useState } from 'react';
import type { FieldProps } from './fieldProps.ts';

/** Several texts, a line each. Written into the draft when the field is left. */
export function ListInput({ id, schema, value, differs, onSet }: FieldProps) {
  const lines = Array.isArray(value) ? (value as readonly string[]) : [];
  const [typed, setTyped] = useState<string | null>(null);
  return (
    <textarea
      id={id}
      rows={Math.max(1, lines.length)}
      className="figure w-full rounded-paper border border-edge bg-paper px-1.5"
      placeholder={differs ? 'differs' : (schema.description ?? 'a line each')}
      value={typed ?? lines.join('\n')}
      onChange={(event) => setTyped(event.target.value)}
      onBlur={() => {
        if (typed === null) return;
        setTyped(null);
        onSet(typed.split(/\s*\n\s*/).filter((line) => line !== ''));
      }}
    />
  );
}
