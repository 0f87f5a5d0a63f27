import type { KnownKey } from '@wide-ledger/contract';
import { useMutation, useQueryClient } from '@tanstack/react-query';
import { Facts } from '../controls/Page.tsx';
import { Failure } from '../controls/States.tsx';
import { SureButton } from '../controls/SureButton.tsx';
import { Leaf } from '../frame/Leaf.tsx';
import { askAnew } from '../server/anew.ts';
import { remove } from '../server/calls.ts';
import { stamp } from '../window/times.ts';
import { useZone } from '../window/windowStore.ts';
import { SCOPE_WORDS } from './scopes.ts';

interface Props {
  readonly known: KnownKey;
  readonly onClose: () => void;
}

/** A key: what it may, when it was used, and its revocation. The key itself is not kept. */
export function KeyLeaf({ known, onClose }: Props) {
  const zone = useZone();
  const client = useQueryClient();
  const revoke = useMutation({
    mutationFn: () => remove(`/keys/${known.id}`),
    onSuccess: async () => {
      await askAnew(client, ['keys']);
      onClose();
    },
  });
  const at = (time: string | null): string => (time === null ? 'never' : stamp(Date.parse(time), zone));
  return (
    <Leaf title={known.name} below={`made by ${known.by}`} onClose={onClose}>
      <Facts
        rows={[
          ['Made', <span className="figure">{at(known.made)}</span>],
          ['Used last', <span className="figure">{at(known.lastUse)}</span>],
          ['From', <span className="figure">{known.lastFrom ?? '—'}</span>],
          ['Ends', <span className="figure">{at(known.ends)}</span>],
          ...(known.scopes.includes('collect')
            ? ([['Collector', known.collector ?? 'the first that uses it']] as const)
            : []),
        ]}
      />
      <h3 className="mt-4 mb-1 font-semibold">May</h3>
      <ul>
        {known.scopes.map((scope) => (
          <li key={scope} className="border-b border-rule py-1">
            {SCOPE_WORDS[scope]} <span className="figure text-ink-2">{scope}</span>
          </li>
        ))}
      </ul>
      {revoke.error && <Failure error={revoke.error} />}
      <div className="mt-3">
        <SureButton
          label="Revoke"
          sure="Revoke it? Whoever uses it is refused at once."
          disabled={revoke.isPending}
          onSure={() => revoke.mutate()}
        />
      </div>
    </Leaf>
  );
}
