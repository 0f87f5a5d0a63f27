/** The buffers between the plant and the archive: how full each is, how long it lasts, and what would be lost first. */
import { recoverySettings, type CollectorState, type SendingLink, type Source } from '@wide-ledger/contract';
import { untilFull } from '@wide-ledger/core';
import { Button } from '../../controls/Button.tsx';
import { Facts } from '../../controls/Page.tsx';
import { Skeleton } from '../../controls/States.tsx';
import { showBytes, showNumber } from '../../controls/values.ts';
import { Leaf } from '../../frame/Leaf.tsx';
import { useGo } from '../../frame/useGo.ts';
import { useDesk } from '../../server/queries.ts';
import { useLinks } from '../../links/useLinks.ts';
import { lengthWords } from '../../window/times.ts';
import { Calculator } from './Calculator.tsx';
import { lastsWords, spoolLasts } from './lasting.ts';

export function BuffersLeaf({ onClose }: { readonly onClose: () => void }) {
  const { data: desk } = useDesk();
  const { data: links } = useLinks();
  const go = useGo();
  return (
    <Leaf title="Buffers" below="what holds values while a line is cut" onClose={onClose}>
      {!desk && <Skeleton rows={6} />}
      {desk?.sources.map((source) => (
        <DeviceBuffer key={source.id} source={source} />
      ))}
      {desk?.collectors.map((collector) => (
        <SpoolBuffer key={collector.name} collector={collector} sources={desk.sources} />
      ))}
      {links?.sending.map((link) => (
        <LinkBuffer key={link.id} link={link} keptDays={links.keptDays} />
      ))}
      <Calculator />
      <Button className="mt-3 self-start" onClick={() => go('/rehearsal')}>
        Rehearse outages
      </Button>
    </Leaf>
  );
}

/** What the device itself remembers: it counts while the line between it and the collector is cut. */
function DeviceBuffer({ source }: { readonly source: Source }) {
  const recovery = source.state?.recovery ?? null;
  const reaches = recovery?.reachesBack ?? null;
  const { bufferValues: holds } = recoverySettings(source.connection, recovery !== null);
  const rate = source.state?.keptPerSecond ?? 0;
  return (
    <section aria-label={`Buffer of ${source.name}`} className="mb-4">
      <h3 className="mb-1 font-semibold">{source.name}, the device’s own</h3>
      {recovery === null ? (
        <p className="text-ink-2">
          {source.state
            ? 'It only answers polls and keeps nothing: a read that is missed is lost.'
            : 'No collector has reported it yet.'}
        </p>
      ) : (
        <Facts
          rows={[
            ...(holds === null
              ? []
              : [
                  [
                    'Holds',
                    `${showNumber(holds)} values, as its connection says: ${lastsWords(untilFull({ capacity: holds, held: 0, valuesPerSecond: rate }))} at today’s rate`,
                  ] as const,
                ]),
            ['Reaches back', reaches === null ? 'not known yet' : lengthWords(Date.now() - reaches)],
            ['Still to fetch', recovery.holes === 0 ? 'nothing' : `${showNumber(recovery.holes)} stretches`],
            ['Lost first', 'the beginning of an outage that lasts longer than it reaches back'],
          ]}
        />
      )}
    </section>
  );
}

/** What waits for a link: it counts while the line between two sites is cut. */
function LinkBuffer({ link, keptDays }: { readonly link: SendingLink; readonly keptDays: number }) {
  const { name, waiting, lagSeconds } = link;
  return (
    <section aria-label={`Backlog of ${name}`} className="mb-4">
      <h3 className="mb-1 font-semibold">{name}, the link’s backlog</h3>
      <Facts
        rows={[
          [
            'Waiting',
            waiting === 0
              ? 'nothing'
              : `${showNumber(waiting)} values of the journal, ${lengthWords((lagSeconds ?? 0) * 1000)} old at most`,
          ],
          ['Lasts', `${showNumber(keptDays)} days: so long the journal is kept for a link that is behind`],
          ['Lost first', 'nothing: what left the journal stands in the ledger, and comes when both ends are compared'],
        ]}
      />
    </section>
  );
}

/** What the collector keeps on its disk: it counts while the line between it and the server is cut. */
function SpoolBuffer({
  collector,
  sources,
}: {
  readonly collector: CollectorState;
  readonly sources: readonly Source[];
}) {
  const { name, spooledEntries, spooledSamples, spoolFreeBytes } = collector;
  const kept = sources.reduce((sum, { state }) => sum + (state?.keptPerSecond ?? 0), 0);
  return (
    <section aria-label={`Spool of ${name}`} className="mb-4">
      <h3 className="mb-1 font-semibold">{name}, the collector’s spool</h3>
      <Facts
        rows={[
          [
            'Waiting',
            spooledEntries === 0
              ? 'nothing'
              : `${showNumber(spooledSamples)} values in ${showNumber(spooledEntries)} entries`,
          ],
          ['Room', spoolFreeBytes === null ? 'not known' : `${showBytes(spoolFreeBytes)} free on its disk`],
          ['Lasts', `${lastsWords(spoolLasts(collector, kept))} at today’s rate, ${showNumber(kept, 1)} values/s`],
          ['Lost first', 'nothing until the disk is full; then the newest, after 2 million values held in memory'],
        ]}
      />
    </section>
  );
}
