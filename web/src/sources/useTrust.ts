import { useEdit } from '../configuration/drafting.ts';

/** Trusting a server's certificate: its fingerprint joins those of the connection, in the draft. */
export function useTrust(id: number, connection: unknown): (fingerprint: string) => void {
  const edit = useEdit();
  return (fingerprint) => {
    const before = (connection ?? {}) as { readonly trusted?: readonly string[] };
    const trusted = [...(before.trusted ?? []), fingerprint];
    edit.mutate([{ kind: 'source', id, set: { connection: { ...before, trusted } } }]);
  };
}
