/** Asking again after an act. */
import { QueryClient, QueryObserver } from '@tanstack/react-query';
import { askAnew } from '../../src/server/anew.ts';

test('an answer that was on its way before the act does not stand for the one after it', async () => {
  const client = new QueryClient();
  const answers: ((words: string) => void)[] = [];
  const ask = (name: string) => ({
    queryKey: [name, 1],
    queryFn: () => new Promise<string>((resolve) => answers.push(resolve)),
  });
  const shown = new QueryObserver(client, ask('modified'));
  const other = new QueryObserver(client, ask('desk'));
  const leave = [shown.subscribe(() => undefined), other.subscribe(() => undefined)];
  expect(answers).toHaveLength(2);

  const anew = askAnew(client, ['modified', 'raw']);
  await new Promise((resolve) => setImmediate(resolve));
  answers[0]!('read before the act');
  expect(answers).toHaveLength(3);
  answers[2]!('read after the act');
  await anew;
  expect(shown.getCurrentResult().data).toBe('read after the act');
  expect(other.getCurrentResult()).toMatchObject({ data: undefined, fetchStatus: 'fetching' });
  for (const end of leave) end();
  client.clear();
});
