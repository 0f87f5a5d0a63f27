/** A link that arrives: who brings it, who invited them, what came. */
import type { ArrivingLink } from '@wide-ledger/contract';
import { Facts } from '../controls/Page.tsx';
import { showBytes, showNumber } from '../controls/values.ts';
import { Leaf } from '../frame/Leaf.tsx';
import { stampAt } from '../window/times.ts';
import { useZone } from '../window/windowStore.ts';
import { ARRIVING_COLOURS } from './states.ts';

interface Props {
  readonly link: ArrivingLink;
  readonly onClose: () => void;
}

export function ArrivingLeaf({
  link: { name, site, state, invited, tags, samples, bytes, setAside, samplesAt },
  onClose,
}: Props) {
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
        ]}
      />
      {state === 'revoked' && (
        <p className="mt-3 text-ink-2">
          Its key was revoked. Invite it again by the same name, and it goes on where it was.
        </p>
      )}
    </Leaf>
  );
}
