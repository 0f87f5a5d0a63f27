/** A new link: where to, with which code, what it carries and by what names, seen side by side before anything is sent. */
import {
  OTHER_ENDS,
  newLink,
  otherEnd,
  siteAddress,
  type LinkNames,
  type OtherEndKind,
  type SendingLink,
} from '@wide-ledger/contract';
import type { Body, NamingRule, Selection } from '@wide-ledger/core';
import { keepPreviousData, useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { Button } from '../controls/Button.tsx';
import { Field } from '../controls/Field.tsx';
import { Failure } from '../controls/States.tsx';
import { Leaf } from '../frame/Leaf.tsx';
import { askAnew } from '../server/anew.ts';
import { post } from '../server/calls.ts';
import { FarEndFields, begunAs } from './FarEndFields.tsx';
import { FarNames } from './FarNames.tsx';
import { LinkPath } from './LinkPath.tsx';
import { FIRST_RULE, NamingRules, isSaid } from './NamingRules.tsx';
import { Networks } from './Networks.tsx';
import { Selections } from './Selections.tsx';
import { Summed, type Carried } from './Summed.tsx';
import { TenRows } from './TenRows.tsx';

interface Props {
  readonly onClose: () => void;
  readonly onMade: (link: SendingLink) => void;
}

const SITE = 'site';
const LOOK = 'mt-1 block h-8 w-full rounded-paper border border-edge bg-paper px-2';

const kindOf = ({ kind }: Body): OtherEndKind => kind as OtherEndKind;

/** Where the path can be walked to already; null: nowhere yet. */
function pathOf(url: string, to: Body | null): Parameters<typeof LinkPath>[0]['to'] {
  if (to === null) return siteAddress.safeParse(url).success ? { url } : null;
  const { data } = otherEnd.safeParse(to);
  return data ? { to: data } : null;
}

export function NewLinkLeaf({ onClose, onMade }: Props) {
  const client = useQueryClient();
  const [name, setName] = useState('');
  const [url, setUrl] = useState('');
  const [code, setCode] = useState('');
  const [to, setTo] = useState<Body | null>(null);
  const [carries, setCarries] = useState<readonly Selection[]>([{ search: '', place: '' }]);
  const [rules, setRules] = useState<readonly NamingRule[]>([FIRST_RULE]);
  const [single, setSingle] = useState<Readonly<Record<string, string>>>({});
  const [carried, setCarried] = useState<Carried>({ detail: true, summaries: [] });
  const naming = { rules: rules.filter(isSaid), single };
  const given = newLink.safeParse({
    name,
    ...(to === null ? { url, code } : { to }),
    carries,
    naming,
    ...carried,
  }).data;
  const { data: names } = useQuery({
    queryKey: ['link names', carries, naming, carried],
    queryFn: () => post<LinkNames>('/links/names', { carries, naming, ...carried }),
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
    <Leaf title="New link" below="to where history is carried" onClose={onClose}>
      <form
        onSubmit={(event) => {
          event.preventDefault();
          if (given) make.mutate();
        }}
      >
        <Field autoFocus label="Name" hint="as it is called here" value={name} onChange={setName} />
        <label className="mb-2.5 block">
          Leads to
          <select
            className={LOOK}
            value={to === null ? SITE : kindOf(to)}
            onChange={({ target: { value } }) => {
              setTo(value === SITE ? null : begunAs(value as OtherEndKind));
              // Files hold every value.
              if (value === 'files') setCarried({ detail: true, summaries: [] });
            }}
          >
            <option value={SITE}>a site that invited this one</option>
            {Object.entries(OTHER_ENDS).map(([kind, { words }]) => (
              <option key={kind} value={kind}>
                {words}
              </option>
            ))}
          </select>
        </label>
        {to === null ? (
          <>
            <Field label="Address" hint="https://region.example:4860" value={url} onChange={setUrl} />
            <Field label="Code" hint="that was shown there" value={code} onChange={setCode} />
          </>
        ) : (
          <FarEndFields key={kindOf(to)} to={to} onChange={setTo} />
        )}
        <Selections selections={carries} onChange={setCarries} />
        {to?.kind !== 'files' && <Summed {...carried} onChange={setCarried} />}
        <NamingRules rules={rules} onChange={setRules} />
        {names && (
          <FarNames
            names={names}
            onName={(tag, name) =>
              setSingle(({ [tag]: _before, ...others }) => (name === '' ? others : { ...others, [tag]: name }))
            }
          />
        )}
        <p className="mt-2 text-ink-2">
          {to === null || to.kind === 'sql-table'
            ? 'What comes from now on is carried. What is older is carried when both ends are compared.'
            : 'What comes from now on is carried.'}
        </p>
        {make.error && <Failure error={make.error} />}
        <Button main type="submit" className="mt-3" disabled={!given || make.isPending}>
          {make.isPending ? 'Asking there …' : 'Make the link'}
        </Button>
      </form>
      <LinkPath to={pathOf(url, to)} />
      {to === null ? <Networks /> : <TenRows to={to} carries={carries} naming={naming} />}
    </Leaf>
  );
}
