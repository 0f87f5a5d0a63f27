/** Asking again for what an act has changed. */
import type { QueryClient } from '@tanstack/react-query';

/**
 * Asks anew for everything that is shown under these names. An answer that is still on its way may have been read
 * before the act: it is let go first, since a first answer on its way would otherwise count as the new one.
 */
export async function askAnew(client: QueryClient, names: readonly string[]): Promise<void> {
  const filter = { predicate: ({ queryKey }: { queryKey: readonly unknown[] }) => names.includes(String(queryKey[0])) };
  await client.cancelQueries(filter);
  await client.invalidateQueries(filter);
}
