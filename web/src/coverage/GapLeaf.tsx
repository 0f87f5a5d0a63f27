import type { Gap } from '@wide-ledger/contract';
import { Button } from '../controls/Button.tsx';
import { Facts } from '../controls/Page.tsx';
import { Leaf } from '../frame/Leaf.tsx';
import { useGo } from '../frame/useGo.ts';
import { bothZones, lengthWords, windowWords } from '../window/times.ts';
import { hold, useWindowState, useZone } from '../window/windowStore.ts';
import { Backfill } from './Backfill.tsx';
import { Explain } from './Explain.tsx';
import { Story } from './Story.tsx';
import { stateOf } from './states.ts';

const CAUSES: Record<Gap['cause'], string> = {
  source: 'the source did not answer',
  collector: 'the collector was away',
  configuration: 'the configuration left it out',
  tag: 'this tag alone could not be read',
  clock: 'the collector’s clock was set, or its machine was asleep',
  link: 'the site that it comes from is not heard of',
  overrun: 'more came than a buffer holds',
  'set aside': 'values came and could not be kept; the Desk lists them',
  paused: 'somebody paused it',
  'no values': 'no values came; nobody records what is watched of this tag',
  unknown: 'not known',
};

/** What is known of one gap. */
export function GapLeaf({ gap, onClose }: { readonly gap: Gap; readonly onClose: () => void }) {
  const zone = useZone();
  const go = useGo();
  const siteZone = useWindowState((state) => state.siteZone);
  const from = Date.parse(gap.from);
  const to = Date.parse(gap.to);
  const { word, colour, says } = stateOf(gap);
  const about = gap.tag ? { tag: gap.tag } : gap.source ? { source: gap.source } : null;
  return (
    <Leaf
      title={windowWords(from, to, zone)}
      below={`${lengthWords(to - from)} · ${[gap.tag ?? `${gap.tags} tags`, ...(gap.source ? [gap.source] : [])].join(' · ')}`}
      onClose={onClose}
    >
      <p className="mb-3">
        {gap.sentence} {gap.code && <span className="figure text-ink-2">{gap.code}</span>}
      </p>
      <Facts
        rows={[
          ['From', bothZones(from, siteZone)],
          ['To', bothZones(to, siteZone)],
          ['Cause', CAUSES[gap.cause]],
          ['State', <span className={colour}>{word}</span>],
        ]}
      />
      <p className="mt-3">{says}</p>
      {gap.explained && (
        <p className="mt-3 border-l-2 border-slate pl-3">
          {gap.explained.reason} <span className="text-ink-2">{gap.explained.by}</span>
        </p>
      )}
      {gap.state !== 'recovered' && gap.cause !== 'no values' && (
        <p className="mt-3 text-ink-2">
          Figures over this time say so: their status is Uncertain or Bad by the share that is missing, and a trend is
          open here.
        </p>
      )}
      <Button
        className="mt-3 self-start"
        onClick={() => hold(from - 0.5 * (to - from) - 30_000, to + 0.5 * (to - from) + 30_000)}
      >
        Show around it
      </Button>
      {about && gap.cause !== 'paused' && (gap.state === 'open' || gap.state === 'gone') && (
        <Explain of={about} from={gap.from} to={gap.to} />
      )}
      {(gap.state === 'open' || gap.state === 'gone') && gap.cause !== 'paused' && gap.cause !== 'set aside' && (
        <p className="mt-3">
          What somebody wrote down meanwhile, or a device’s own log, may be a file:{' '}
          <button type="button" className="text-verdigris underline" onClick={() => go('/files', { overlap: 'fill' })}>
            fill it from a file
          </button>
        </p>
      )}
      {about && <Story of={about} gap={gap} />}
      {gap.recoverable && gap.source && (
        <Backfill of={gap.tag ? { tags: [gap.tag] } : { source: gap.source }} from={gap.from} to={gap.to} />
      )}
    </Leaf>
  );
}
