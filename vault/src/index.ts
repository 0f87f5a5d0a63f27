/** Secrets at rest, for every program that keeps any. */
export { Seal, keyFile } from './seal.ts';
