/** Requests that another site makes a browser send, with the cookie of whoever sits before it. */
import type { Request } from 'express';
import { ProblemError } from '../../ground/index.ts';

const HARMLESS = ['GET', 'HEAD', 'OPTIONS'];

/**
 * Refuses what would change something and comes from another origin: beside the cookie's SameSite, which takes all ports
 * of a host for one site. @throws ProblemError 403
 */
export function refuseForeignOrigin({ method, headers }: Request): void {
  if (HARMLESS.includes(method)) return;
  const { origin, host, 'sec-fetch-site': fetched } = headers;
  const foreign = origin !== undefined ? hostOf(origin) !== host : fetched !== undefined && fetched !== 'same-origin';
  if (!foreign) return;
  throw new ProblemError(
    403,
    'Not allowed from there',
    `This request comes from a page of ${origin ?? 'another site'}. With the cookie of a session only the pages of this site change anything; programs use a key.`,
  );
}

function hostOf(origin: string): string | null {
  try {
    return new URL(origin).host;
  } catch {
    return null;
  }
}
