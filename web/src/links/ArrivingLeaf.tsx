/** A link that arrives: who brings it, who invited them, what came. */
import type { ArrivingLink } from '@wide-ledger/contract';
import { Facts } from '../controls/Page.tsx';
import { showBytes, showNumber } from '../controls/values.ts';
import { Leaf } from '../frame/Leaf.tsx';
import { stampAt } from '../window/times.ts';
import { useWindow, useZone } from '../window/windowStore.ts';
import { healthRows } from './SiteHealth.tsx';
import { ARRIVING_COLOURS } from './states.ts';

interface Props {
  readonly link: ArrivingLink;
  readonly onClose: () => void;
}

export function ArrivingLeaf({ link, onClose }: Props) {
  const { name, site, state, invited, tags, samples, bytes, setAside, samplesAt, namesakes, account } = link;
  const now = useWindow().to;
  const zone = useZone();
  const at = (time: string | null): string => (time === null ? '—' : stampAt(time, zone));
  return (
    <Leaf title={name} below={site ? `from ${site.name}` : 'nobody has joined yet'} onClose={onClose}>
      <Facts
        rows={[
          ['State', <span className={ARRIVING_COLOURS[state]}>{state}</span>],
          ['Invited', `by ${invited.by}, ${at(invited.at)}`],
          ...(invited.ends === null ? [] : [['Code until', at(invited.ends)] as const]),
          ...(site === null ? [] : [['Version', <span className="figure">{site.version}</span>] as const]),
          ['Tags', showNumber(tags)],
          ['Values', showNumber(samples)],
          ['On the line', showBytes(bytes)],
          ['Set aside', showNumber(setAside)],
          ['Last values', at(samplesAt)],
          ...healthRows(link, now),
        ]}
      />
      {account?.concerns.map((sentence) => (
        <p key={sentence} className="mt-2 text-madder">
          {sentence}
        </p>
      ))}
      {namesakes.length > 0 && (
        <p className="mt-3 text-ochre">
          Another site calls itself {site?.name}, too: {namesakes.join(', ')}. They are told apart by their identities;
          give one of them another name.
        </p>
      )}
      {state === 'revoked' && (
        <p className="mt-3 text-ink-2">
          Its key was revoked. Invite it again by the same name, and it goes on where it was.
        </p>
      )}
    </Leaf>
  );
}
