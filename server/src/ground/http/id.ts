/** The number of something in a path. */
import type { Request } from 'express';
import { z } from 'zod';
import { badRequest } from './problemError.ts';

/** The largest number that a row has. */
const LARGEST = 2_147_483_647;

/** The number of a row among the parameters of a query. */
export const rowNumber = z.coerce.number().int().positive().max(LARGEST);

/** @throws ProblemError naming the parameter that is no number. */
export function idIn({ params }: Request, name: string): number {
  const text = String(params[name]);
  const id = Number(text);
  if (/^\d{1,10}$/.test(text) && id <= LARGEST) return id;
  throw badRequest(`${name}: "${text}" is no number of anything here. It is a whole number from 1 to ${LARGEST}.`);
}
