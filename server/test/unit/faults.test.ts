/** What the database says, as an answer (SQLSTATE: PostgreSQL's appendix A; EPIPE and the like: errno(3)). */
import { databaseFault, messageWithoutValues, rootOf } from '../../src/ground/http/databaseFaults.ts';

const coded = (code: string, message = 'x'): Error => Object.assign(new Error(message), { code });

test.each([
  ['53100', 507, 'The disk of the server is full'],
  ['ENOSPC', 507, 'The disk of the server is full'],
  ['53300', 503, 'no connection left'],
  ['53200', 503, 'ran out of memory'],
  ['57014', 503, 'memory or time'],
  ['40001', 503, 'Others changed the same'],
  ['40P01', 503, 'Others changed the same'],
  ['57P01', 503, 'does not answer'],
  ['08006', 503, 'does not answer'],
  ['ECONNREFUSED', 503, 'does not answer'],
  ['22003', 400, 'larger than what can be kept'],
  ['22021', 400, 'larger than what can be kept'],
])('%s is answered with %i and a sentence', (code, status, words) => {
  const problem = databaseFault(coded(code))!;
  expect([problem.status, problem.message]).toEqual([status, expect.stringContaining(words)]);
  expect(problem.message).toMatch(/\.$/);
});

test('what nobody foresaw is none of them; what wraps an error does not hide it', () => {
  expect(databaseFault(new TypeError('x is not a function'))).toBeNull();
  expect(databaseFault(coded('42P01'))).toBeNull();
  const wrapped = new Error('Failed query: select "key_hash" …', { cause: coded('53300') });
  expect(databaseFault(wrapped)!.status).toBe(503);
  expect(rootOf(wrapped)).toMatchObject({ code: '53300' });
  expect(databaseFault(new Error('timeout exceeded when trying to connect'))!.status).toBe(503);
});

test('a log holds neither the values of a statement nor the keys of a row', () => {
  const said = 'Failed query: select * from "access_key" where "key_hash" = $1\nparams: 0123abcd';
  expect(messageWithoutValues(said)).not.toContain('0123abcd');
  expect(messageWithoutValues('Key (key_hash)=(0123abcd) already exists.')).toBe('Key (…)=(…) already exists.');
});
