import { KINDS, type SourceKind } from '@wide-ledger/contract';
import { Button } from '../controls/Button.tsx';
import { useGo } from '../frame/useGo.ts';

/** Leads to the tree of a source, where there is one. */
export function TakeButton({ id, kind }: { readonly id: number; readonly kind: SourceKind }) {
  const go = useGo();
  if (!KINDS[kind].offers.browse) return null;
  return (
    <Button className="mt-4 self-start" onClick={() => go('/take', { source: String(id) })}>
      Take tags from its tree
    </Button>
  );
}
