/** Fetches what was recorded and tries settings on it, beside the screen; what was fetched stays for the next trial. */
import type { RawAnswer } from '@wide-ledger/contract';
import { parseInstant } from '@wide-ledger/core';
import { get } from '../server/calls.ts';
import { RecordedTag, type Drawing, type Trial, type TrialAnswer, type TrialRow, type TriedTag } from './trial.ts';

/** Samples of a tag that are looked at. */
const MOST = 600_000;
const PAGE = 50_000;

let window = '';
let known = new Map<string, RecordedTag>();
let current = 0;
let abort = new AbortController();

const say = (answer: TrialAnswer): void => postMessage(answer);

async function recordedOf(
  { tag, stepped }: TriedTag,
  { from, to }: Trial,
  told: (loaded: number) => void,
): Promise<RecordedTag> {
  const found = known.get(tag);
  if (found) return found;
  const [times, values, status]: [number[], number[], number[]] = [[], [], []];
  let cursor: string | undefined;
  do {
    const bounds = { from: new Date(from).toISOString(), to: new Date(to).toISOString() };
    const page = await get<RawAnswer>('/history/raw', { tag, ...bounds, limit: PAGE, cursor }, abort.signal);
    for (const sample of page.samples) {
      times.push(parseInstant(sample.time)!);
      values.push(typeof sample.value === 'number' ? sample.value : Number(sample.value ?? NaN));
      status.push(sample.status);
    }
    cursor = page.next;
    told(times.length);
  } while (cursor !== undefined && times.length < MOST);
  const columns = {
    times: Float64Array.from(times),
    values: Float64Array.from(values),
    status: Uint32Array.from(status),
  };
  const recorded = new RecordedTag(columns, stepped, cursor === undefined ? null : times.at(-1)! / 1000);
  known.set(tag, recorded);
  return recorded;
}

async function play(trial: Trial, turn: number): Promise<void> {
  const rows: TrialRow[] = [];
  let drawing: Drawing | null = null;
  let milliseconds = 0;
  for (const [done, tried] of trial.tags.entries()) {
    const { tag } = tried;
    const recorded = await recordedOf(tried, trial, (loaded) =>
      say({ is: 'loading', tag, loaded, done, of: trial.tags.length }),
    );
    if (turn !== current) return;
    const begun = performance.now();
    const found = recorded.try(tried, tag === trial.drawn ? trial : null);
    milliseconds += performance.now() - begun;
    rows.push(found.row);
    drawing = found.drawing ?? drawing;
  }
  say({ is: 'tried', rows, drawing, milliseconds });
}

addEventListener('message', ({ data: trial }: MessageEvent<Trial>) => {
  const asked = `${trial.from} ${trial.to}`;
  if (asked !== window) {
    window = asked;
    known = new Map();
    abort.abort();
    abort = new AbortController();
  }
  const turn = ++current;
  play(trial, turn).catch((error: Error) => {
    if (error.name !== 'AbortError' && turn === current) say({ is: 'failed', sentence: error.message });
  });
});
