/** What the demo's past writes, and to whom. */
import { formatInstant, type Frame } from '@wide-ledger/core';
import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { THORNMERE_POINTS, seedPast } from '../../src/index.ts';

const folder = mkdtempSync(join(tmpdir(), 'wide-ledger-seed-'));
afterAll(() => rmSync(folder, { recursive: true }));

const STRANGER = 900;

test('marks of past outages go to the plant’s own points, not to a tag that a person made meanwhile', async () => {
  const tags = [
    ...THORNMERE_POINTS.map(({ tag }, i) => ({ id: i + 1, name: tag, sourceId: 1 })),
    { id: STRANGER, name: 'My.own', sourceId: 1 },
  ];
  // A few at a time, as a site with thousands of tags tells them.
  const pageOf = (path: string): object => {
    const cursor = Number(new URLSearchParams(path.split('?')[1]).get('cursor'));
    const next = cursor + 5 < tags.length ? { next: String(cursor + 5) } : {};
    return { tags: tags.slice(cursor, cursor + 5), ...next };
  };
  const frames: (Frame | null)[] = [];
  const calls = {
    json: <Answer>(_method: string, path: string): Promise<Answer> => {
      const answer = path.startsWith('/coverage')
        ? { rows: [{ sourceId: 1, spans: [{ from: formatInstant(1_795_000_000_000_000) }] }] }
        : path.startsWith('/tags')
          ? pageOf(path)
          : // All the chapters are there already: only the first entry is of interest.
            { sequence: Number.MAX_SAFE_INTEGER, stop: false };
      return Promise.resolve(answer as Answer);
    },
    entry: (_description: object, frame: Frame | null): Promise<void> => Promise.resolve(void frames.push(frame)),
  };
  await seedPast(calls, {}, join(folder, 'note.json'));
  expect(frames).toHaveLength(1);
  const marked = new Set(frames[0]!.tags);
  expect(marked.size).toBe(THORNMERE_POINTS.length);
  expect(marked).not.toContain(STRANGER);
});
