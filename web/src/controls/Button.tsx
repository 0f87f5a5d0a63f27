import type { ButtonHTMLAttributes, Ref } from 'react';

interface Props extends ButtonHTMLAttributes<HTMLButtonElement> {
  readonly main?: boolean;
  readonly ref?: Ref<HTMLButtonElement>;
}

/** A button; `main` for the one action that a place is there for. */
export function Button({ main = false, className = '', ...rest }: Props) {
  const look = main ? 'border-verdigris bg-verdigris text-on-verdigris' : 'border-rule bg-raised hover:border-edge';
  return (
    <button
      type="button"
      className={`h-[30px] shrink-0 rounded-paper border px-2.5 aria-pressed:border-verdigris aria-pressed:font-semibold disabled:cursor-not-allowed disabled:opacity-50 ${look} ${className}`}
      {...rest}
    />
  );
}
