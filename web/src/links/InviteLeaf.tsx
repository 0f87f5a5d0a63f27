/** Inviting a site: a name by which this one will know the link, and a code for the other one, shown once. */
import { newInvitation, type Invitation } from '@wide-ledger/contract';
import { useMutation, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { Button } from '../controls/Button.tsx';
import { Field } from '../controls/Field.tsx';
import { ShownOnce } from '../controls/ShownOnce.tsx';
import { Failure } from '../controls/States.tsx';
import { Leaf } from '../frame/Leaf.tsx';
import { askAnew } from '../server/anew.ts';
import { post } from '../server/calls.ts';

export function InviteLeaf({ onClose }: { readonly onClose: () => void }) {
  const client = useQueryClient();
  const [name, setName] = useState('');
  const given = newInvitation.safeParse({ name }).data;
  const make = useMutation({
    mutationFn: () => post<Invitation>('/links/invitations', given),
    onSuccess: () => askAnew(client, ['links']),
  });
  if (make.data)
    return (
      <Leaf title={name} below="an invitation" onClose={onClose}>
        <ShownOnce
          says="Give it to the administrator of the other site, with the address of this one. It is kept as its digest only, and is good once."
          made={make.data.code}
          after={`Good until ${make.data.ends.slice(0, 16).replace('T', ' ')} UTC.`}
        />
      </Leaf>
    );
  return (
    <Leaf title="Invite a site" below="to carry its history here" onClose={onClose}>
      <form
        onSubmit={(event) => {
          event.preventDefault();
          if (given) make.mutate();
        }}
      >
        <Field autoFocus label="Name" hint="by which this site will know it" value={name} onChange={setName} />
        <p className="text-ink-2">
          The code becomes a key that may only carry. What arrives makes tags here, and touches none that this site
          collects itself.
        </p>
        {make.error && <Failure error={make.error} />}
        <Button main type="submit" className="mt-3" disabled={!given || make.isPending}>
          Make the code
        </Button>
      </form>
    </Leaf>
  );
}
