/** Surroundings of a kind that needs none of them. */
import type { Surroundings } from '../src/index.ts';

export const ALONE: Surroundings = {
  readable: [],
  folder: '',
  secret: () => null,
  account: () => Promise.reject(new Error('It is not asked about itself.')),
};
