import { useMutation } from '@tanstack/react-query';
import { useState } from 'react';
import { Failure } from '../../controls/States.tsx';
import { post } from '../../server/calls.ts';
import type { FieldProps } from './fieldProps.ts';

/** A password: taken in by the server at once, sealed, and never shown again. The draft holds its number. */
export function SecretInput({ id, value, differs, onSet }: FieldProps) {
  const [typed, setTyped] = useState('');
  const keep = useMutation({
    mutationFn: () => post<{ id: number }>('/secrets', { value: typed }),
    onSuccess: ({ id: number }) => {
      setTyped('');
      onSet(number);
    },
  });
  const finish = (): void => {
    if (typed !== '' && !keep.isPending) keep.mutate();
  };
  const kept = typeof value === 'number' ? 'kept: type to replace it' : 'none';
  return (
    <>
      <input
        id={id}
        type="password"
        autoComplete="new-password"
        className="h-7 w-full rounded-paper border border-edge bg-paper px-1.5"
        placeholder={differs ? 'differs' : kept}
        value={typed}
        onChange={(event) => setTyped(event.target.value)}
        onBlur={finish}
        onKeyDown={(event) => event.key === 'Enter' && finish()}
      />
      {keep.error && <Failure error={keep.error} />}
    </>
  );
}
