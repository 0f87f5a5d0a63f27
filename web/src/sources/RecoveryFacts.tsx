/** How it goes with fetching what was missed, and how far back the source itself remembers. */
import type { RecoveryState } from '@wide-ledger/contract';
import { Facts } from '../controls/Page.tsx';
import { showNumber } from '../controls/values.ts';
import { lengthWords, stamp } from '../window/times.ts';
import { useZone } from '../window/windowStore.ts';

const MODES: Record<RecoveryState['mode'], string> = {
  'by itself': 'by itself, at start and at reconnection',
  'on demand': 'only when somebody asks for it',
  off: 'off: what is missed stays missing',
};

export function RecoveryFacts({ recovery }: { readonly recovery: RecoveryState }) {
  const zone = useZone();
  const { mode, holes, since, values, calls, reachesBack } = recovery;
  return (
    <section aria-label="Recovery" className="mt-4">
      <h3 className="mb-1 font-semibold">Recovery</h3>
      <Facts
        rows={[
          ['What is missed', MODES[mode]],
          [
            'Its own buffer',
            reachesBack === null
              ? 'not known yet'
              : `reaches back ${lengthWords(Date.now() - reachesBack)}, to ${stamp(reachesBack, zone)}`,
          ],
          [
            'Still to fetch',
            holes === 0 || since === null
              ? 'nothing'
              : `${showNumber(holes)} ${holes === 1 ? 'stretch' : 'stretches'}, from ${stamp(since, zone)} on`,
          ],
          ['Fetched', <span className="figure">{`${showNumber(values)} values in ${showNumber(calls)} calls`}</span>],
        ]}
      />
    </section>
  );
}
