import { KINDS, type SourceKind } from '@wide-ledger/contract';
import { Button } from '../controls/Button.tsx';
import { useGo } from '../frame/useGo.ts';

/** Leads to what a source has: its tree where there is one, its registers where values lie in such. */
export function TakeButton({ id, kind }: { readonly id: number; readonly kind: SourceKind }) {
  const go = useGo();
  const [screen, words] = KINDS[kind].offers.browse
    ? (['/take', 'Take tags from its tree'] as const)
    : (['/registers', 'Look at its registers'] as const);
  return (
    <Button className="mt-4 self-start" onClick={() => go(screen, { source: String(id) })}>
      {words}
    </Button>
  );
}
