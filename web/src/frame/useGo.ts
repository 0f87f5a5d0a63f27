/** Going to another screen with the window of time kept in the address. */
import { useCallback } from 'react';
import { useLocation, useNavigate } from 'react-router';

const KEPT = ['last', 'from', 'to', 'zone'];

/** The window's part of an address's search, with further parameters. */
export function searchWith(search: string, extra: Record<string, string> = {}): string {
  const current = new URLSearchParams(search);
  const kept = new URLSearchParams(KEPT.flatMap((name) => (current.has(name) ? [[name, current.get(name)!]] : [])));
  for (const [name, value] of Object.entries(extra)) kept.set(name, value);
  const text = kept.toString();
  return text ? `?${text}` : '';
}

export function useGo(): (path: string, extra?: Record<string, string>) => void {
  const navigate = useNavigate();
  const { search } = useLocation();
  return useCallback(
    (path, extra) => void navigate({ pathname: path, search: searchWith(search, extra) }),
    [navigate, search],
  );
}
