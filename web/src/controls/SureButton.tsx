/** A button for what cannot be undone: pressed once it asks, pressed again it does it. Leaving it forgets the question. */
import { useState } from 'react';
import { Button } from './Button.tsx';

interface Props {
  readonly label: string;
  /** What it asks, in place of the label. */
  readonly sure: string;
  readonly disabled?: boolean;
  readonly onSure: () => void;
}

export function SureButton({ label, sure, disabled = false, onSure }: Props) {
  const [asking, setAsking] = useState(false);
  return (
    <Button
      disabled={disabled}
      className={asking ? 'border-madder font-semibold text-madder' : ''}
      onBlur={() => setAsking(false)}
      onClick={() => {
        if (asking) onSure();
        setAsking(!asking);
      }}
    >
      <span aria-live="polite">{asking ? sure : label}</span>
    </Button>
  );
}
