import type { Gap } from '@wide-ledger/contract';
import { Button } from '../controls/Button.tsx';
import { Facts } from '../controls/Page.tsx';
import { Leaf } from '../frame/Leaf.tsx';
import { bothZones, lengthWords, windowWords } from '../window/times.ts';
import { hold, useWindowState, useZone } from '../window/windowStore.ts';

const CAUSES: Record<Gap['cause'], string> = {
  source: 'the source did not answer',
  collector: 'the collector was away',
  configuration: 'the configuration left it out',
  tag: 'this tag alone could not be read',
  clock: 'the collector’s clock was set, or its machine was asleep',
  paused: 'somebody paused it',
  unknown: 'not known',
};

function recoverableWords({ recoverable, cause }: Gap): string {
  if (recoverable) return 'yes: the source still has it';
  return cause === 'paused' ? 'no: nobody asked the source' : 'no: the source keeps no history';
}

/** What is known of one gap. */
export function GapLeaf({ gap, onClose }: { readonly gap: Gap; readonly onClose: () => void }) {
  const zone = useZone();
  const siteZone = useWindowState((state) => state.siteZone);
  const from = Date.parse(gap.from);
  const to = Date.parse(gap.to);
  return (
    <Leaf
      title={windowWords(from, to, zone)}
      below={`${lengthWords(to - from)} · ${gap.tag ?? `${gap.tags} tags`} · ${gap.source ?? ''}`}
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
          ['Recoverable', recoverableWords(gap)],
        ]}
      />
      <p className="mt-3 mb-3 text-ink-2">
        Figures over this time say so: their status is Uncertain or Bad by the share that is missing, and a trend is
        open here.
      </p>
      <Button
        className="self-start"
        onClick={() => hold(from - 0.5 * (to - from) - 30_000, to + 0.5 * (to - from) + 30_000)}
      >
        Show around it
      </Button>
    </Leaf>
  );
}
