/** Long lists as JSON, written in turns: while one is written, others are served. */
import { Turns } from '../threads/turns.ts';

/** Elements that are written at once: a few milliseconds of work. */
const AT_ONCE = 2000;

/** The JSON text of a list. @param as what is written of each element. */
export async function listAsJson<One>(list: readonly One[], as: (one: One) => unknown): Promise<string> {
  if (list.length === 0) return '[]';
  const turns = new Turns(AT_ONCE);
  const pieces: string[] = [];
  for (let at = 0; at < list.length; at += AT_ONCE) {
    const piece = list.slice(at, at + AT_ONCE);
    pieces.push(JSON.stringify(piece.map(as)).slice(1, -1));
    await turns.after(piece.length);
  }
  return `[${pieces.join(',')}]`;
}
