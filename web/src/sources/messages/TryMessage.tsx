/** Trying a message: caught or pasted, and beside it what each of its fields would be, as one types. */
import { inMessage, nodeOf, type MessagesAnswer, type NewSource, type Tag } from '@wide-ledger/contract';
import { keepPreviousData, useMutation, useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { Button } from '../../controls/Button.tsx';
import { Field } from '../../controls/Field.tsx';
import { Failure } from '../../controls/States.tsx';
import { post } from '../../server/calls.ts';
import { useTags } from '../../server/queries.ts';
import { readApart } from './readApart.ts';
import { triedRows, type TriedRow } from './tried.ts';

type Source = Extract<NewSource, { kind: 'mqtt' | 'http-json' }>;

const BOX = 'mt-1 block w-full rounded-paper border border-edge bg-paper px-2';

interface Props {
  /** As it is in the draft, else in force. */
  readonly source: Source;
  /** Its number. */
  readonly id: number;
}

export function TryMessage({ source, id }: Props) {
  const [topic, setTopic] = useState('');
  const [payload, setPayload] = useState('');
  const tags = useTags('', undefined, id).data?.pages.flatMap((page) => page.tags) ?? [];
  const ask = useMutation({ mutationFn: () => post<MessagesAnswer>('/sources/messages', { source }) });
  const caught = ask.data?.messages ?? [];
  const isBroker = source.kind === 'mqtt';
  const { connection } = source;
  const { expression } = connection;
  const form = 'payload' in connection ? connection.payload : 'json';
  const read = useQuery({
    queryKey: ['tried message', payload, form, expression, topic],
    queryFn: ({ signal }) => readApart({ payload, form, expression, topic }, signal),
    enabled: payload !== '',
    placeholderData: keepPreviousData,
  });
  const choose = (chosen: string): void => {
    setTopic(chosen);
    setPayload(caught.find((one) => one.topic === chosen)?.payload ?? '');
  };
  return (
    <section aria-label="Try a message" className="mt-4">
      <div className="mb-1.5 flex items-center gap-3">
        <h3 className="flex-1 font-semibold">Try a message</h3>
        <Button disabled={ask.isPending} onClick={() => ask.mutate()}>
          {ask.isPending ? (isBroker ? 'Listening …' : 'Asking …') : isBroker ? 'Catch some' : 'Ask for some'}
        </Button>
      </div>
      {ask.error && <Failure error={ask.error} />}
      {ask.data && caught.length === 0 && (
        <p className="text-ink-2">
          {isBroker ? 'Nothing came while it was listened.' : 'No request is answered in JSON.'}
        </p>
      )}
      {caught.length > 0 && (
        <label className="mb-2.5 block">
          {isBroker ? 'Caught' : 'Answered'}{' '}
          <span className="text-ink-2">
            {isBroker ? `on ${ask.data!.topics} topics` : `of ${ask.data!.topics} requests`}
          </span>
          <select
            className={`${BOX} h-8`}
            value={caught.some((one) => one.topic === topic) ? topic : ''}
            onChange={(event) => choose(event.target.value)}
          >
            <option value="">choose one</option>
            {caught.map((one) => (
              <option key={one.topic}>{one.topic}</option>
            ))}
          </select>
        </label>
      )}
      <Field label={isBroker ? 'Topic' : 'Request'} hint="of the message" value={topic} onChange={setTopic} />
      <label className="mb-2.5 block">
        Message <span className="text-ink-2">caught, or pasted</span>
        <textarea
          rows={4}
          spellCheck={false}
          className={`${BOX} figure py-1`}
          value={payload}
          onChange={(event) => setPayload(event.target.value)}
        />
      </label>
      {expression !== '' && payload !== '' && <p className="mb-1 text-ink-2">What the expression makes of it:</p>}
      {payload !== '' && read.data && <Tried tried={triedRows(read.data, connection, takersOf(tags, topic))} />}
    </section>
  );
}

/** The tags that take something of a topic, by the field. */
function takersOf(tags: readonly Tag[], topic: string): ReadonlyMap<string, readonly string[]> {
  const takers = new Map<string, string[]>();
  for (const { name, collection } of tags) {
    if (!collection) continue;
    const { of, field } = inMessage(nodeOf(collection.address) ?? '');
    if (of === topic) takers.set(field, [...(takers.get(field) ?? []), name]);
  }
  return takers;
}

function Tried({ tried }: { readonly tried: readonly TriedRow[] | string }) {
  if (typeof tried === 'string')
    return (
      <p role="status" className="text-madder">
        {tried}
      </p>
    );
  const taken = tried.filter(({ tags }) => tags.length > 0).length;
  return (
    <div data-testid="tried">
      <p role="status">
        {tried.length} {tried.length === 1 ? 'value' : 'values'}, {taken} of them taken.
      </p>
      <ul className="mt-1 border-t border-rule">
        {tried.map((row, i) => (
          <li key={`${row.field} ${i}`} className="border-b border-rule py-1">
            <span className="flex gap-2">
              <span className="figure min-w-24 flex-1 truncate" title={row.field}>
                {row.field || 'all of it'}
              </span>
              <span className="figure max-w-24 truncate" title={row.value}>
                {row.value}
              </span>
              <span className={`w-24 truncate ${row.tags.length > 0 ? '' : 'text-ink-2'}`} title={row.tags.join(', ')}>
                {row.tags.join(', ') || 'ignored'}
              </span>
            </span>
            <span className={row.trouble ? 'text-madder' : 'text-ink-2'}>
              {row.trouble ?? `${row.status}, ${row.time}`}
            </span>
          </li>
        ))}
      </ul>
    </div>
  );
}
