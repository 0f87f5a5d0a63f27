/** A field of a form that is typed into: what it is called, a hint beside it, the text. */
interface Props {
  readonly label: string;
  readonly hint?: string;
  readonly value: string;
  readonly onChange: (text: string) => void;
  readonly autoFocus?: boolean;
}

export function Field({ label, hint, value, onChange, autoFocus = false }: Props) {
  return (
    <label className="mb-2.5 block">
      {label} {hint && <span className="text-ink-2">{hint}</span>}
      <input
        type="text"
        autoComplete="off"
        autoFocus={autoFocus}
        className="figure mt-1 block h-8 w-full rounded-paper border border-edge bg-paper px-2"
        value={value}
        onChange={(event) => onChange(event.target.value)}
      />
    </label>
  );
}
