/** Which transactions may still commit rows before those that were read: numbers of 32 and 64 bits, and batches. */
import { Settling, snapshotOf } from '../../src/kinds/sql/settling.ts';

test('an open transaction that began after the last one that ended counts; its number has 32 bits', () => {
  expect(snapshotOf(700n, 700n, [700n, 703n])).toEqual({ xmin: 700n, xmax: 704n });
  expect(snapshotOf(700n, 710n, [700n])).toEqual({ xmin: 700n, xmax: 710n });
  // Numbers of 64 bits go on where those of 32 begin anew (PostgreSQL, "Preventing Transaction ID Wraparound Failures").
  const turn = 2n ** 32n;
  expect(snapshotOf(turn - 2n, turn - 1n, [turn - 2n, 5n])).toEqual({ xmin: turn - 2n, xmax: turn + 6n });
  expect(snapshotOf(turn + 1n, turn + 4n, [turn - 3n])).toEqual({ xmin: turn + 1n, xmax: turn + 4n });
});

test('a batch is settled when all transactions have ended that were open when it was read, and not before', () => {
  const settling = new Settling(null);
  settling.note('10', ['a', 'b']);
  settling.close({ xmin: 5n, xmax: 9n });
  expect(settling.doubtful).toEqual({ to: '10', seen: 2 });
  settling.settle({ xmin: 8n, xmax: 12n });
  expect(settling.settled).toBeNull();
  settling.note('20', ['c']);
  settling.noteLate(['d']);
  settling.close({ xmin: 8n, xmax: 12n });
  expect([settling.rows, settling.wasSeen('d'), settling.wasSeen('e')]).toEqual([4, true, false]);
  settling.settle({ xmin: 9n, xmax: 14n });
  expect([settling.settled, settling.rows]).toEqual(['10', 2]);
  settling.settle({ xmin: 14n, xmax: 14n });
  expect([settling.settled, settling.rows, settling.doubtful]).toEqual(['20', 0, null]);
});

test('who gives up waiting goes on from what was read', () => {
  const settling = new Settling('3');
  settling.note('10', ['a']);
  settling.giveUp();
  expect([settling.settled, settling.rows]).toEqual(['10', 0]);
});
