/** Links of both directions, asked again as they change. */
import type { LinksAnswer } from '@wide-ledger/contract';
import { useQuery } from '@tanstack/react-query';
import { get } from '../server/calls.ts';

const REFRESH_MILLISECONDS = 2000;

export const useLinks = () =>
  useQuery({
    queryKey: ['links'],
    queryFn: ({ signal }) => get<LinksAnswer>('/links', {}, signal),
    refetchInterval: REFRESH_MILLISECONDS,
  });
