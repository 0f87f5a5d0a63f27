/** Whether there is something at the addresses of tags that are not there yet: asked of their sources themselves. */
import { askedSource, type AddressesAnswer } from '@wide-ledger/contract';
import { nameIn, type Body } from '@wide-ledger/core';
import { useMutation } from '@tanstack/react-query';
import { useDefinitions, type Standing } from '../configuration/drafting.ts';
import { Button } from '../controls/Button.tsx';
import { Failure } from '../controls/States.tsx';
import { showNumber } from '../controls/values.ts';
import { post } from '../server/calls.ts';

/** Addresses of one question. */
const AT_ONCE = 200;
/** Tags without anything at their address that are listed. */
const MOST_SHOWN = 100;

interface Trouble {
  readonly name: string;
  readonly sentence: string;
}
interface Asked {
  readonly asked: number;
  readonly troubles: readonly Trouble[];
}

const typeIn = ({ type }: Body): string => (typeof type === 'string' ? type : 'real');

/** Tags by source and type, as they are asked for together. */
export function questionsFor(bodies: readonly Body[]): { source: number; type: string; tags: readonly Body[] }[] {
  const groups = new Map<string, Body[]>();
  for (const body of bodies) {
    if (typeof body.source !== 'number' || body.address === null || body.address === undefined) continue;
    const key = `${body.source} ${typeIn(body)}`;
    groups.set(key, [...(groups.get(key) ?? []), body]);
  }
  return [...groups.values()].flatMap((tags) =>
    Array.from({ length: Math.ceil(tags.length / AT_ONCE) }, (_, i) => ({
      source: tags[0]!.source as number,
      type: typeIn(tags[0]!),
      tags: tags.slice(i * AT_ONCE, (i + 1) * AT_ONCE),
    })),
  );
}

async function ask(bodies: readonly Body[], sources: readonly Standing[]): Promise<Asked> {
  const troubles: Trouble[] = [];
  let asked = 0;
  // One after the other: a device has better things to do than to answer all of them at once.
  for (const { source: id, type, tags } of questionsFor(bodies)) {
    const body = sources.find((one) => one.id === id)?.body;
    const source = askedSource(body ?? {}).data;
    asked += tags.length;
    if (!source) {
      troubles.push(...tags.map((tag) => ({ name: nameIn(tag), sentence: 'Its source cannot be asked yet.' })));
      continue;
    }
    const addresses = tags.map(({ address }) => address);
    const { found } = await post<AddressesAnswer>('/sources/addresses', { source, type, addresses });
    found.forEach(({ trouble }, i) => {
      if (trouble !== null) troubles.push({ name: nameIn(tags[i]), sentence: trouble });
    });
  }
  return { asked, troubles };
}

export function AskSources({ bodies }: { readonly bodies: readonly Body[] }) {
  const { data: sources = [] } = useDefinitions('source');
  const asking = useMutation({ mutationFn: () => ask(bodies, sources) });
  if (questionsFor(bodies).length === 0) return null;
  const { data } = asking;
  return (
    <div className="mt-2" data-testid="asked-sources">
      {asking.error && <Failure error={asking.error} />}
      {data && (
        <p role="status">
          {data.troubles.length === 0
            ? `There is something at all ${showNumber(data.asked)} addresses.`
            : `At ${showNumber(data.troubles.length)} of ${showNumber(data.asked)} addresses the source has nothing:`}
        </p>
      )}
      {data && data.troubles.length > 0 && (
        <ul aria-label="Addresses that the source does not have" className="mt-1 border-t border-rule">
          {data.troubles.slice(0, MOST_SHOWN).map(({ name, sentence }) => (
            <li key={name} className="border-b border-rule py-1">
              <span className="figure">{name}</span> <span className="text-madder">{sentence}</span>
            </li>
          ))}
        </ul>
      )}
      <Button disabled={asking.isPending} onClick={() => asking.mutate()}>
        {asking.isPending ? 'Asking …' : 'Ask the source for the addresses'}
      </Button>
    </div>
  );
}
