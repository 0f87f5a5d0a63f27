/** The password of the role for SQL tools. */
import { newReaderPassword } from '@wide-ledger/contract';
import { useMutation } from '@tanstack/react-query';
import { useState } from 'react';
import { Button } from '../controls/Button.tsx';
import { Failure } from '../controls/States.tsx';
import { Leaf } from '../frame/Leaf.tsx';
import { put } from '../server/calls.ts';

export function ReaderLeaf({ onClose }: { readonly onClose: () => void }) {
  const [password, setPassword] = useState('');
  const given = newReaderPassword.safeParse({ password }).data;
  const change = useMutation({
    mutationFn: () => put<null>('/reader/password', given),
    onSuccess: () => setPassword(''),
  });
  return (
    <Leaf title="Password for SQL" below="of the role that SQL tools sign in as" onClose={onClose}>
      <p className="mb-3">
        The role reads the views of the schema <span className="figure">history</span> and nothing else. A statement, or
        an open transaction, ends after a minute.
      </p>
      <form
        onSubmit={(event) => {
          event.preventDefault();
          if (given) change.mutate();
        }}
      >
        <label className="block">
          New password <span className="text-ink-2">at least 12 characters</span>
          <input
            type="password"
            autoComplete="new-password"
            className="figure mt-1 block h-8 w-full rounded-paper border border-edge bg-paper px-2"
            value={password}
            onChange={(event) => setPassword(event.target.value)}
          />
        </label>
        {change.error && <Failure error={change.error} />}
        {change.isSuccess && <p role="status">It stands from now on. Tools that are connected stay so.</p>}
        <Button main type="submit" className="mt-3" disabled={!given || change.isPending}>
          Change it
        </Button>
      </form>
    </Leaf>
  );
}
