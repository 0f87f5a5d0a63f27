/** Who makes a request. */
import type { Scope, Session } from '@wide-ledger/contract';
import type { Request } from 'express';

/** By a person's session, or by a program's key. */
export type Pass =
  | { readonly kind: 'session'; readonly id: string }
  | { readonly kind: 'key'; readonly id: number; readonly collector: string | null };

export interface Visitor extends Session {
  readonly scopes: Scope[];
  readonly pass: Pass;
}

const visitors = new WeakMap<Request, Visitor>();

export const noteVisitor = (request: Request, visitor: Visitor): void => void visitors.set(request, visitor);

/** The one who made a request that was let pass. */
export function visitorOf(request: Request): Visitor {
  const visitor = visitors.get(request);
  if (!visitor) throw new Error('visitorOf was asked before the guard');
  return visitor;
}
