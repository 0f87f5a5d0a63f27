import { newSource, type NewSource } from '@wide-ledger/contract';
import { useMutation, useQueryClient } from '@tanstack/react-query';
import { useForm } from 'react-hook-form';
import { useEdit } from '../configuration/drafting.ts';
import { Button } from '../controls/Button.tsx';
import { Failure } from '../controls/States.tsx';
import { Leaf } from '../frame/Leaf.tsx';
import { put } from '../server/calls.ts';
import { PathCheck } from './PathCheck.tsx';

interface Given {
  readonly name: string;
  readonly host: string;
  readonly port: string;
  readonly unit: string;
}

interface Props {
  readonly onClose: () => void;
  readonly onSaved: (id: number) => void;
}

const toSource = ({ name, host, port, unit }: Given): NewSource | null =>
  newSource.safeParse({
    name,
    kind: 'modbus-tcp',
    connection: { host: host.trim(), port: Number(port), unit: Number(unit) },
  }).data ?? null;

/** Bringing a source in: fill in, walk the path, then save. */
export function NewSourceLeaf({ onClose, onSaved }: Props) {
  const client = useQueryClient();
  const { register, watch } = useForm<Given>({ defaultValues: { name: '', host: '', port: '502', unit: '1' } });
  const given = toSource(watch());
  const save = useMutation({
    mutationFn: (source: NewSource) => put<{ id: number }>('/sources', source),
    onSuccess: async ({ id }) => {
      await client.invalidateQueries({ queryKey: ['sources'] });
      onSaved(id);
    },
  });
  const edit = useEdit();
  const draft = (source: NewSource): void =>
    edit.mutate([{ kind: 'source', create: { ...source } }], { onSuccess: onClose });
  const field = (name: keyof Given, label: string, hint: string) => (
    <label className="mb-2.5 block">
      {label} <span className="text-ink-2">{hint}</span>
      <input
        className="figure mt-1 block h-8 w-full rounded-paper border border-edge bg-paper px-2"
        {...register(name)}
      />
    </label>
  );
  return (
    <Leaf title="New source" below="Modbus TCP" onClose={onClose}>
      {field('name', 'Name', 'as everybody will know it')}
      {field('host', 'Host', 'empty: this machine')}
      {field('port', 'Port', '1 to 65535')}
      {field('unit', 'Unit', '0 to 255')}
      {given ? (
        <PathCheck source={given} />
      ) : (
        <p className="text-ink-2">With a name, a port and a unit the path can be walked.</p>
      )}
      {save.error && <Failure error={save.error} />}
      {edit.error && <Failure error={edit.error} />}
      <div className="mt-4 flex flex-wrap gap-2">
        <Button main disabled={!given || save.isPending} onClick={() => given && save.mutate(given)}>
          Save and put in force
        </Button>
        <Button disabled={!given || edit.isPending} onClick={() => given && draft(given)}>
          Into the draft
        </Button>
      </div>
    </Leaf>
  );
}
