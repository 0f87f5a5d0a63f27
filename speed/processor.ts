import { readFileSync } from 'node:fs';

/** Linux counts processor time in hundredths of a second. */
const TICKS_PER_SECOND = 100;

/** Processor seconds that a process has used, its own and the system's for it. */
export function processorSeconds(pid: number): number {
  const fields = readFileSync(`/proc/${pid}/stat`, 'utf8')
    .replace(/^.*\) /, '')
    .split(' ');
  return (Number(fields[11]) + Number(fields[12])) / TICKS_PER_SECOND;
}
