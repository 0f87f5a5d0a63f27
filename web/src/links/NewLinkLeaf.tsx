/** A new link: where to, with which code, what it carries and by what names, seen side by side before anything is sent. */
import { newLink, type LinkNames, type SendingLink } from '@wide-ledger/contract';
import { keepPreviousData, useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { usePlacePaths } from '../configuration/PlaceSelect.tsx';
import { Button } from '../controls/Button.tsx';
import { Field } from '../controls/Field.tsx';
import { Failure } from '../controls/States.tsx';
import { showNumber } from '../controls/values.ts';
import { Leaf } from '../frame/Leaf.tsx';
import { askAnew } from '../server/anew.ts';
import { post } from '../server/calls.ts';

interface Props {
  readonly onClose: () => void;
  readonly onMade: (link: SendingLink) => void;
}

const SHOWN = 100;

export function NewLinkLeaf({ onClose, onMade }: Props) {
  const client = useQueryClient();
  const places = usePlacePaths();
  const [name, setName] = useState('');
  const [url, setUrl] = useState('');
  const [code, setCode] = useState('');
  const [search, setSearch] = useState('');
  const [place, setPlace] = useState('');
  const [prefix, setPrefix] = useState('');
  const carries = [{ search, place }];
  const naming = { rules: prefix === '' ? [] : [{ kind: 'prefix' as const, text: prefix }], single: {} };
  const given = newLink.safeParse({ name, url, code, carries, naming }).data;
  const { data: names } = useQuery({
    queryKey: ['link names', search, place, prefix],
    queryFn: () => post<LinkNames>('/links/names', { carries, naming }),
    placeholderData: keepPreviousData,
  });
  const make = useMutation({
    mutationFn: () => post<SendingLink>('/links', given),
    onSuccess: async (link) => {
      await askAnew(client, ['links']);
      onMade(link);
    },
  });
  return (
    <Leaf title="New link" below="to a site that invited this one" onClose={onClose}>
      <form
        onSubmit={(event) => {
          event.preventDefault();
          if (given) make.mutate();
        }}
      >
        <Field autoFocus label="Name" hint="as it is called here" value={name} onChange={setName} />
        <Field label="Address" hint="https://region.example:4860" value={url} onChange={setUrl} />
        <Field label="Code" hint="that was shown there" value={code} onChange={setCode} />
        <label className="mb-2.5 block">
          Carries <span className="text-ink-2">all of a place, and what comes there</span>
          <select
            className="mt-1 block h-8 w-full rounded-paper border border-edge bg-paper px-2"
            value={place}
            onChange={(event) => setPlace(event.target.value)}
          >
            <option value="">all places</option>
            {places.map((path) => (
              <option key={path}>{path}</option>
            ))}
          </select>
        </label>
        <Field label="Of it" hint="words that have to occur; empty: all" value={search} onChange={setSearch} />
        <Field label="Before each name" hint="such as TH. ; empty: nothing" value={prefix} onChange={setPrefix} />
        {names && <Names names={names} />}
        <p className="mt-2 text-ink-2">
          What comes from now on is carried. What is older is carried when both ends are compared.
        </p>
        {make.error && <Failure error={make.error} />}
        <Button main type="submit" className="mt-3" disabled={!given || make.isPending}>
          {make.isPending ? 'Asking there …' : 'Make the link'}
        </Button>
      </form>
    </Leaf>
  );
}

function Names({ names: { tags, problems, rows } }: { readonly names: LinkNames }) {
  return (
    <section aria-label="Names side by side">
      <p>
        <span className="figure">{showNumber(tags)}</span> {tags === 1 ? 'tag' : 'tags'}
        {problems > 0 && <span className="text-madder">, {showNumber(problems)} of them cannot be carried so</span>}
      </p>
      <div
        tabIndex={0}
        role="list"
        aria-label="Names here and there"
        className="mt-1 max-h-40 overflow-y-auto border-y border-rule"
      >
        {rows.slice(0, SHOWN).map(({ tag, farName, problem }) => (
          <div key={tag} role="listitem" className="flex gap-2 border-b border-rule py-0.5 last:border-b-0">
            <span className="figure min-w-0 flex-1 truncate">{tag}</span>
            <span
              className={`figure min-w-0 flex-1 truncate ${problem ? 'text-madder' : ''}`}
              title={problem ?? farName}
            >
              {problem ?? farName}
            </span>
          </div>
        ))}
        {tags > SHOWN && (
          <div role="listitem" className="py-0.5 text-ink-2">
            and {showNumber(tags - SHOWN)} more
          </div>
        )}
      </div>
    </section>
  );
}
