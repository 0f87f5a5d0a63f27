export const ROOT: string;
export class Trouble extends Error {}
export function freePort(): Promise<number>;
export function freePortPair(): Promise<number>;
