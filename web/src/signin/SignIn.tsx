import { signIn } from '@wide-ledger/contract';
import { useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { useForm } from 'react-hook-form';
import { Button } from '../controls/Button.tsx';
import { Failure } from '../controls/States.tsx';
import { post } from '../server/calls.ts';

interface Given {
  readonly name: string;
  readonly password: string;
}

export function SignIn() {
  const client = useQueryClient();
  const [failure, setFailure] = useState<Error | null>(null);
  const { register, handleSubmit, formState } = useForm<Given>({ defaultValues: { name: 'admin', password: '' } });
  const submit = handleSubmit(async (given) => {
    setFailure(null);
    try {
      client.setQueryData(['session'], await post('/session', signIn.parse(given)));
      await client.invalidateQueries();
    } catch (error) {
      setFailure(error as Error);
    }
  });
  const field = 'mt-1 mb-3 block h-9 w-full rounded-paper border border-edge bg-paper px-2.5';
  return (
    <main className="flex h-full items-center justify-center">
      <form onSubmit={(event) => void submit(event)} className="w-80 rounded-paper border border-rule bg-raised p-6">
        <h1 className="mb-1 font-title text-[23px] font-semibold">Wide Ledger</h1>
        <p className="mb-5 text-ink-2">Every value kept, every figure shown how.</p>
        <label>
          Name
          <input className={field} autoComplete="username" {...register('name', { required: true })} />
        </label>
        <label>
          Password
          <input
            className={field}
            type="password"
            autoComplete="current-password"
            autoFocus
            {...register('password', { required: true })}
          />
        </label>
        {failure && <Failure error={failure} />}
        <Button main type="submit" className="mt-1 w-full" disabled={formState.isSubmitting}>
          {formState.isSubmitting ? 'Signing in …' : 'Sign in'}
        </Button>
      </form>
    </main>
  );
}
