/** The line for a reason, as long as one may be. */
interface Props {
  readonly label: string;
  readonly hint?: string;
  readonly reason: string;
  readonly onReason: (reason: string) => void;
}

export function ReasonInput({ label, hint, reason, onReason }: Props) {
  return (
    <label className="block">
      {label} {hint && <span className="text-ink-2">{hint}</span>}
      <input
        className="mt-1 block h-8 w-full rounded-paper border border-edge bg-paper px-2"
        maxLength={400}
        value={reason}
        onChange={(event) => onReason(event.target.value)}
      />
    </label>
  );
}
