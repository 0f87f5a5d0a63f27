import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { Spool } from '../../src/index.ts';

let folder: string;
beforeEach(() => {
  folder = mkdtempSync(join(tmpdir(), 'wide-ledger-spool-'));
});
afterEach(() => rmSync(folder, { recursive: true, force: true }));

const bytes = (sequence: number): Uint8Array => Uint8Array.of(sequence);

test('the spool keeps entries in order, counts on after a restart, and keeps its name', async () => {
  const first = await Spool.open(folder);
  await first.add(bytes, { a: 1 }, 5);
  await first.add(bytes, { a: 2 }, 5);
  expect(await first.oldest()).toEqual([{ sequence: 1, packed: Uint8Array.of(1) }]);
  await first.remove([1, 2], 10);
  await first.close();
  const second = await Spool.open(folder);
  expect(second.identity).toBe(first.identity);
  // A copy of this folder that is opened elsewhere numbers its entries under a name of its own.
  expect(second.epoch).not.toBe(first.epoch);
  expect([second.nameBefore, second.before.sequence]).toEqual([first.name, 2]);
  expect(await second.notes()).toEqual({ a: 2 });
  expect(await second.oldest()).toEqual([]);
  await second.add(bytes, null, 1);
  expect((await second.oldest())[0]!.sequence).toBe(3);
  await second.close();
});

test('a second collector on the same spool gets a sentence', async () => {
  const first = await Spool.open(folder);
  await expect(Spool.open(folder)).rejects.toThrow('is in use by another collector');
  await first.close();
});
