export const ROOT: string;
export class Trouble extends Error {}
export function freePort(): Promise<number>;
export const DEVICE_PORTS: number;
export function freePorts(count: number): Promise<number>;
