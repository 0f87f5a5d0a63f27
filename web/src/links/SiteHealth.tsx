/** How a site at the other end is, as it said last: in one line, and in full. */
import type { ArrivingLink } from '@wide-ledger/contract';
import { showAgo, showBytes, showNumber } from '../controls/values.ts';
import { stamp } from '../window/times.ts';

interface Props {
  readonly link: ArrivingLink;
}

/** What presses most, or that all is well; of a site that is silent, since when. */
export function SiteHealth({ link: { account, contactAt, state } }: Props) {
  const isHeard = state === 'arriving' || state === 'never sent anything';
  const concern = isHeard ? account?.concerns[0] : undefined;
  const words = !isHeard || account === null ? `heard of ${showAgo(contactAt)}` : (concern ?? 'all is well');
  const colour = concern ? 'text-madder' : isHeard && account ? 'text-verdigris' : 'text-ink-2';
  return (
    <span className={`min-w-0 flex-1 truncate ${colour}`} title={words}>
      {words}
    </span>
  );
}

/** Rows for the leaf: nothing where the site is older and does not tell. */
export function healthRows({ account }: ArrivingLink, now: number): [string, string][] {
  if (account === null) return [];
  const { zone, tags, sources, away, valuesPerSecond, freeBytes } = account;
  return [
    ['Clock there', `${stamp(now, zone)}, ${zone}`],
    ['Its sources', away === 0 ? `${sources}, all answer` : `${sources}, ${away} away`],
    ['It records', `${showNumber(Math.round(valuesPerSecond))} values/s of ${showNumber(tags)} tags`],
    ...(freeBytes === null ? [] : [['Room there', showBytes(freeBytes)] as [string, string]]),
  ];
}
