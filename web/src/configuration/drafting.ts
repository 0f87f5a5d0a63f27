/** Definitions and drafts as the screens see them, and editing them. */
import type {
  Comparison,
  DefinitionList,
  DefinitionOutput,
  DraftChange,
  DraftEdited,
  DraftSummary,
  ForceResult,
  Review,
  VersionList,
} from '@wide-ledger/contract';
import type { Body, DefinitionKind } from '@wide-ledger/core';
import { useInfiniteQuery, useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useMemo } from 'react';
import { askAnew } from '../server/anew.ts';
import { get, post, remove } from '../server/calls.ts';
import { useSession } from '../server/queries.ts';

/** A definition as it stands for the person who edits: in the draft, else in force. */
export interface Standing {
  readonly kind: DefinitionKind;
  readonly id: number;
  /** Null: new in the draft. */
  readonly inForce: Body | null;
  /** Null: to be retired. */
  readonly body: Body | null;
  readonly life: 'in force' | 'new in draft' | 'changed in draft' | 'to be retired' | 'retired';
}

function standingOf({ kind, id, body, draft }: DefinitionOutput): Standing {
  const inForce = body as Body | null;
  if (draft === undefined) return { kind, id, inForce, body: inForce, life: inForce ? 'in force' : 'retired' };
  const life = draft === null ? 'to be retired' : inForce ? 'changed in draft' : 'new in draft';
  return { kind, id, inForce, body: draft as Body | null, life };
}

export const useDefinitions = (kind: DefinitionKind, ids?: readonly number[]) =>
  useQuery({
    queryKey: ['definitions', kind, ids ?? 'all'],
    queryFn: ({ signal }) =>
      get<{ definitions: DefinitionOutput[] }>('/definitions', { kind, ids: ids?.join(',') }, signal),
    select: ({ definitions }) => definitions.map(standingOf),
    enabled: ids === undefined || ids.length > 0,
    staleTime: 30_000,
  });

/** All definitions of a kind that are in force, however many; what the own draft says of them is laid over. */
export function useStandings(kind: DefinitionKind): {
  readonly standings: readonly Standing[];
  readonly isPending: boolean;
  readonly error: Error | null;
} {
  const drafted = useDrafted(kind);
  const { data, isPending, error } = useQuery({
    // An edit of a draft changes nothing of it.
    queryKey: ['in force', kind],
    queryFn: async ({ signal }) => {
      const all: Standing[] = [];
      let after: number | undefined = 0;
      while (after !== undefined) {
        const page: DefinitionList = await get('/definitions', { kind, draft: 'none', after }, signal);
        all.push(...page.definitions.map(standingOf));
        after = page.next;
      }
      return all;
    },
    // Comparing ten thousand bodies takes longer than drawing them.
    structuralSharing: false,
    staleTime: 30_000,
  });
  const standings = useMemo(() => {
    const inForce = data ?? [];
    if (drafted.size === 0) return inForce;
    const known = new Set(inForce.map(({ id }) => id));
    return [
      ...inForce.map((standing) => drafted.get(standing.id) ?? standing),
      ...[...drafted.values()].filter(({ id }) => !known.has(id)),
    ];
  }, [data, drafted]);
  return { standings, isPending, error };
}

/** The definitions of a kind that the own draft touches, by their numbers. */
export function useDrafted(kind: DefinitionKind): ReadonlyMap<number, Standing> {
  const { data } = useQuery({
    queryKey: ['definitions', kind, 'drafted'],
    queryFn: ({ signal }) => get<{ definitions: DefinitionOutput[] }>('/definitions', { kind, draft: 'only' }, signal),
    select: byNumber,
    structuralSharing: false,
    staleTime: 30_000,
  });
  return data ?? NONE;
}

const NONE: ReadonlyMap<number, Standing> = new Map();
const byNumber = ({ definitions }: { definitions: DefinitionOutput[] }): ReadonlyMap<number, Standing> =>
  new Map(definitions.map((one) => [one.id, standingOf(one)]));

/** Everybody's drafts; what others do is seen within seconds. */
export const useDrafts = () =>
  useQuery({
    queryKey: ['drafts'],
    queryFn: () => get<{ drafts: DraftSummary[] }>('/drafts').then(({ drafts }) => drafts),
    refetchInterval: 5000,
  });

/** The draft of whoever is signed in. */
export function useOwnDraft(): DraftSummary | undefined {
  const { data: session } = useSession();
  return useDrafts().data?.find(({ owner }) => owner === session?.name);
}

export const useReview = (id: number | undefined) =>
  useQuery({
    queryKey: ['review', id],
    queryFn: ({ signal }) => get<Review>(`/drafts/${id}`, {}, signal),
    enabled: id !== undefined,
  });

export const useVersions = () =>
  useInfiniteQuery({
    queryKey: ['versions'],
    queryFn: ({ pageParam, signal }) => get<VersionList>('/versions', { cursor: pageParam }, signal),
    initialPageParam: undefined as string | undefined,
    getNextPageParam: (page) => page.next,
  });

/** @param from undefined: the version before `to`. */
export const useComparison = (from: number | undefined, to: number | undefined) =>
  useQuery({
    queryKey: ['comparison', from, to],
    queryFn: ({ signal }) => get<Comparison>('/versions/compare', { from, to }, signal),
    enabled: to !== undefined,
    staleTime: Infinity,
  });

/** What is asked anew after an edit, and after a version was put in force. */
export const AFTER_EDIT = ['drafts', 'definitions', 'review'];
const AFTER_FORCE = [...AFTER_EDIT, 'in force', 'versions', 'sources', 'tags', 'tag', 'stores', 'coverage', 'gaps'];

/** Edits in the own draft, which is begun by the first. */
export function useEdit() {
  const client = useQueryClient();
  return useMutation({
    mutationFn: (changes: readonly DraftChange[]) => post<DraftEdited>('/drafts', { changes }),
    onSettled: () => askAnew(client, AFTER_EDIT),
  });
}

/** Steps of the own draft as a whole. */
export function useDraftSteps(draft: DraftSummary | undefined) {
  const client = useQueryClient();
  const path = `/drafts/${draft?.id}`;
  const undo = useMutation({
    mutationFn: () => post(`${path}/undo`),
    onSettled: () => askAnew(client, AFTER_EDIT),
  });
  const redo = useMutation({ mutationFn: () => post('/drafts/redo'), onSettled: () => askAnew(client, AFTER_EDIT) });
  const discard = useMutation({ mutationFn: () => remove(path), onSettled: () => askAnew(client, AFTER_EDIT) });
  const settle = useMutation({
    mutationFn: (
      fields: readonly { kind: DefinitionKind; id: number; path: readonly string[]; take: 'mine' | 'theirs' }[],
    ) => post(`${path}/settle`, { fields }),
    onSettled: () => askAnew(client, AFTER_EDIT),
  });
  const force = useMutation({
    mutationFn: (reason: string) => post<ForceResult>(`${path}/force`, { reason }),
    onSettled: () => askAnew(client, AFTER_FORCE),
  });
  return { undo, redo, discard, settle, force };
}

/** Takes an earlier version back as the own draft. */
export function useTakeBack() {
  const client = useQueryClient();
  return useMutation({
    mutationFn: (version: number) => post<DraftEdited>('/drafts', { version }),
    onSettled: () => askAnew(client, AFTER_EDIT),
  });
}
