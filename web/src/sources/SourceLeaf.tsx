import { KINDS, askedSource, whither, type NewSource, type Source, type SourceState } from '@wide-ledger/contract';
import type { Body } from '@wide-ledger/core';
import { useState } from 'react';
import { EditPanel } from '../configuration/EditPanel.tsx';
import { LookOrChange } from '../configuration/LookOrChange.tsx';
import { LifeWord, lifeOf } from '../configuration/Life.tsx';
import { useDrafted } from '../configuration/drafting.ts';
import { Facts } from '../controls/Page.tsx';
import { showAge, showBytes, showNumber } from '../controls/values.ts';
import { Leaf } from '../frame/Leaf.tsx';
import { Offers } from './Offers.tsx';
import { PathCheck } from './PathCheck.tsx';
import { TryRows, isRecord } from './records/TryRows.tsx';
import { TryMessage } from './messages/TryMessage.tsx';
import { RecoveryFacts } from './RecoveryFacts.tsx';
import { TagsOfSource } from './TagsOfSource.tsx';
import { TakeButton } from './TakeButton.tsx';
import { Ways } from './Ways.tsx';
import { useTrust } from './useTrust.ts';

/** Everything about a source: state, how punctual its reads are, and the way to it. */
export function SourceLeaf({ source, onClose }: { readonly source: Source; readonly onClose: () => void }) {
  const { connection, state, reportedAt } = source;
  const drafted = useDrafted('source').get(source.id);
  const trust = useTrust(source.id, drafted?.body?.connection ?? connection);
  const [changing, setChanging] = useState(drafted !== undefined);
  const life = lifeOf({
    drafted: drafted?.life,
    retired: false,
    paused: source.paused,
    toldVersion: null,
    runs: source.runs,
  });
  const second = bySecondWay(source);
  const age = reportedAt ? Date.now() - Date.parse(reportedAt) : Infinity;
  return (
    <Leaf
      title={source.name}
      below={
        <>
          <LifeWord life={life} /> {KINDS[source.kind].words}
        </>
      }
      onClose={onClose}
    >
      {state?.state === 'away' && (
        <p className="mb-2 text-madder">
          {state.sentence} <span className="figure">{state.code}</span>
        </p>
      )}
      <LookOrChange changing={changing} onChanging={setChanging} />
      {changing && <EditPanel kind="source" ids={[source.id]} />}
      {source.readers.length > 0 && <Readers readers={source.readers} />}
      <Facts
        rows={[
          [
            'State',
            state
              ? `${state.state} for ${showAge(Date.now() - state.since).replace(' ago', '')}`
              : 'no collector has reported it',
          ],
          ['Reported', <span className={age > 5000 ? 'text-ochre' : ''}>{reportedAt ? showAge(age) : 'never'}</span>],
          ['Address', <span className="figure wrap-anywhere">{whither(source)}</span>],
          ['Collector', source.collector ?? 'any'],
          ...(source.standby ? [['Standby', source.standby] as const] : []),
          ...('timeoutMilliseconds' in connection
            ? [['Time-out', <span className="figure">{`${connection.timeoutMilliseconds} ms`}</span>] as const]
            : []),
          ['Runs', source.runs === null ? 'unknown' : `version ${source.runs}`],
          ['Tags', source.tags],
          ['Read', <span className="figure">{`${showNumber(state?.valuesPerSecond ?? 0, 1)} values/s`}</span>],
          ['Kept', <span className="figure">{`${showNumber(state?.keptPerSecond ?? 0, 1)} values/s`}</span>],
          [
            'Passing',
            <span className="figure">
              {state?.traffic
                ? `${showNumber(state.traffic.requestsPerSecond, 1)} requests/s, ${showBytes(state.traffic.bytesPerSecond)}/s`
                : '—'}
            </span>,
          ],
          ['Clock', stampsOf(source, state)],
          ...(state?.facts ?? []).map(
            ([name, value]) => [name, <span className="figure break-words">{value}</span>] as const,
          ),
        ]}
      />
      {state && <Ways id={source.id} state={state} />}
      {state?.recovery && <RecoveryFacts recovery={state.recovery} />}
      {Object.keys(state?.timing ?? {}).length > 0 && <Punctuality timing={state!.timing} />}
      {changing && source.kind === 'opc-ua' && <Offers id={source.id} source={asDrafted(source, drafted?.body)} />}
      {(source.kind === 'mqtt' || source.kind === 'http-json') && (
        <TryMessage id={source.id} source={asDrafted(source, drafted?.body)} />
      )}
      {isRecord(source) && <TryRows id={source.id} source={asDrafted(source, drafted?.body)} />}
      {(state?.troubles.length ?? 0) > 0 && <TroubleList troubles={state!.troubles} />}
      <PathCheck source={source} onTrust={trust} />
      {second && <PathCheck source={second} walker={source.standby ?? 'the second way'} />}
      <TakeButton id={source.id} kind={source.kind} />
      <TagsOfSource id={source.id} />
    </Leaf>
  );
}

/** A source as its standby reads it, or its collector by the second way; null where there is neither. */
function bySecondWay(source: Source): NewSource | null {
  const { name, kind, collector, standby, connection } = source;
  const second = 'standbyConnection' in source ? source.standbyConnection : undefined;
  if (!second && standby === undefined) return null;
  // Both connections are of the source's kind.
  return { name, kind, connection: second ?? connection, collector: standby ?? collector } as NewSource;
}

/** The collectors that read it: whose turn it is to record, and who stands ready. */
function Readers({ readers }: Pick<Source, 'readers'>) {
  return (
    <section aria-label="Collectors that read it" className="mb-2">
      <h3 className="mt-1 mb-1 font-semibold">Collectors that read it</h3>
      <ul>
        {readers.map(({ collector, holds, present, state, sentence, faultyTags }) => (
          <li key={collector} className="border-t border-rule py-1">
            <span className="flex justify-between">
              <b className="font-semibold">{collector}</b>
              <span className={!present ? 'text-madder' : holds ? 'text-verdigris' : 'text-slate'}>
                {!present ? 'not there' : holds ? 'records' : state === 'watching' ? 'stands ready' : 'reads it, too'}
              </span>
            </span>
            {present && state !== 'watching' && <span className="text-ink-2">{sentence}</span>}
            {present && faultyTags > 0 && (
              <span className="text-ochre">
                {faultyTags === 1 ? 'One tag' : `${showNumber(faultyTags)} tags`} cannot be read by it.
              </span>
            )}
          </li>
        ))}
      </ul>
    </section>
  );
}

/** A source as it stands for whoever changes it: in the draft, else in force. */
function asDrafted<Of extends NewSource>(source: Of, drafted: Body | null | undefined): Of {
  const { data } = askedSource({ ...source, ...drafted });
  // A draft does not change the kind of a source.
  return data?.kind === source.kind ? (data as Of) : source;
}

/** Who stamps the values of a source, or how its clock stands beside the collector's. */
function stampsOf(source: Source, state: SourceState | null): string {
  switch (source.kind) {
    case 'mqtt':
    case 'http-json':
      return source.connection.time === ''
        ? 'the collector stamps what comes'
        : `each message says its own, as ${source.connection.time}`;
    case 'sparkplug':
      return 'each metric tells its time';
    case 'sql':
    case 'files':
      return `each row tells its time (${source.connection.time})`;
    case 'ledger':
      return 'values keep the times that they have there';
    default: {
      const skew = state?.clockSkewMilliseconds ?? null;
      if (skew === null) return 'tells no time; the collector stamps';
      return `${showNumber(Math.abs(skew))} ms ${skew < 0 ? 'behind' : 'ahead of'} the collector's`;
    }
  }
}

/** How late reads start, by their intervals: of sources that are asked. */
function Punctuality({ timing }: { readonly timing: SourceState['timing'] }) {
  return (
    <>
      <h3 className="mt-4 mb-1 font-semibold">
        Punctuality of reads <span className="font-normal text-ink-2">median · 99th</span>
      </h3>
      <table className="w-full text-right">
        <thead className="text-ink-2">
          <tr className="border-b border-ink/70">
            <th className="py-1 text-left font-normal">Every</th>
            <th className="font-normal">late, ms</th>
            <th className="font-normal">answered, ms</th>
            <th className="font-normal">missed</th>
          </tr>
        </thead>
        <tbody className="figure">
          {Object.entries(timing).map(([interval, { jitterMedian, jitter99, durationMedian, duration99, missed }]) => (
            <tr key={interval} className="border-b border-rule">
              <td className="py-1 text-left">{interval}</td>
              <td>{showMilliseconds(jitterMedian, jitter99)}</td>
              <td>{showMilliseconds(durationMedian, duration99)}</td>
              <td className={missed > 0 ? 'text-ochre' : ''}>{missed}</td>
            </tr>
          ))}
        </tbody>
      </table>
    </>
  );
}

const showMilliseconds = (median: number, late: number): string => `${median.toFixed(1)} · ${late.toFixed(1)}`;

/** What went wrong since the collector was started, by kinds. */
function TroubleList({ troubles }: { readonly troubles: SourceState['troubles'] }) {
  return (
    <section aria-label="What went wrong" className="mt-4">
      <h3 className="mb-1 font-semibold">What went wrong</h3>
      <ul>
        {troubles.map(({ code, sentence, count, last }) => (
          <li key={code} className="border-t border-rule py-1">
            <span className="flex justify-between text-ink-2">
              <span className="figure truncate">{code.split(' ')[0]}</span>
              <span className="whitespace-nowrap">
                {count === 1 ? 'once' : `${showNumber(count)} times`}, {showAge(Date.now() - last)}
              </span>
            </span>
            {sentence}
          </li>
        ))}
      </ul>
    </section>
  );
}
