/** Something that is shown once, to be taken along: it cannot be shown again. */
import { useState, type ReactNode } from 'react';
import { Button } from './Button.tsx';

interface Props {
  readonly says: string;
  readonly made: string;
  readonly after: ReactNode;
}

export function ShownOnce({ says, made, after }: Props) {
  const [copied, setCopied] = useState(false);
  return (
    <>
      <p className="mb-2">{says}</p>
      <output className="figure block rounded-paper border border-edge bg-paper p-2 break-all" data-made>
        {made}
      </output>
      <p className="mt-2 text-ink-2">{after}</p>
      <Button
        main
        className="mt-3 self-start"
        onClick={() => void navigator.clipboard.writeText(made).then(() => setCopied(true))}
      >
        <span aria-live="polite">{copied ? 'Copied' : 'Copy'}</span>
      </Button>
    </>
  );
}
