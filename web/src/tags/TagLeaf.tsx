import { where, type Tag } from '@wide-ledger/contract';
import { useEffect, useState, type ReactNode } from 'react';
import { EditPanel } from '../configuration/EditPanel.tsx';
import { LookOrChange } from '../configuration/LookOrChange.tsx';
import { LifeWord } from '../configuration/Life.tsx';
import type { Standing } from '../configuration/drafting.ts';
import { Button } from '../controls/Button.tsx';
import { Facts } from '../controls/Page.tsx';
import { GRADE_COLOUR, gradeOf, showAge, showNumber, showValue } from '../controls/values.ts';
import { ComputePast } from '../formula/ComputePast.tsx';
import { Leaf } from '../frame/Leaf.tsx';
import { useGo } from '../frame/useGo.ts';
import { useLiveSample } from '../server/live.ts';
import { useCoverage, useSession } from '../server/queries.ts';
import { Strip } from '../strip/Strip.tsx';
import { coverageOf } from '../strip/coverageOf.ts';
import { wholeWords } from '../strip/stripRow.ts';
import { StoreOfTag } from './StoreOfTag.tsx';
import { TagChanges } from './TagChanges.tsx';
import { useTagLife } from './TagRow.tsx';
import { WriteValue } from './WriteValue.tsx';
import { labelWords, plainWords } from '@wide-ledger/core';
import { bothZones, lengthWords, offsetOf, stamp, windowWords } from '../window/times.ts';
import { useWindowState, useZone } from '../window/windowStore.ts';

/** Which pace that is, and in what the tag departs from it. */
function paceWords({ collection }: Tag): string {
  if (!collection?.pace) return '';
  const own = collection.departures.length;
  return ` (${collection.pace}${own === 0 ? '' : `, ${own} of its own`})`;
}

/** How a deadband reads. */
function keptWhen({ collection, unit, inputs }: Tag): string {
  if (!collection) return inputs ? 'every value that is computed' : 'whatever is sent';
  const { deadband, longestSilenceSeconds } = collection;
  const moved = {
    none: 'every value',
    absolute: 'moved more than',
    percent: 'moved more than',
    line: 'off a line by more than',
    'line percent': 'off a line by more than',
  }[deadband.kind];
  const by =
    'width' in deadband ? ` ${deadband.width} ${unit}` : 'percent' in deadband ? ` ${deadband.percent} % of range` : '';
  const words = moved + by;
  return longestSilenceSeconds === null ? words : `${words}, or ${lengthWords(longestSilenceSeconds * 1000)} passed`;
}

const sentenceOf = (words: string): string => `${words[0]!.toUpperCase()}${words.slice(1)}.`;

/** By what it is found beside its name. */
const labelRows = ({ labels }: Tag): [string, ReactNode][] =>
  Object.keys(labels).length === 0
    ? []
    : [['Labels', <span className="figure wrap-anywhere">{labelWords(labels)}</span>]];

/** What it is computed by, and of which tags. */
function formulaRows({ formula, inputs }: Tag): [string, ReactNode][] {
  if (formula === null) return [];
  return [
    ['Formula', <span className="figure wrap-anywhere">{formula}</span>],
    ...Object.entries(inputs ?? {}).map(([name, tag]): [string, ReactNode] => [
      `of ${name}`,
      <span className="figure wrap-anywhere">{tag}</span>,
    ]),
  ];
}

interface Props {
  readonly tag: Tag;
  readonly drafted: Standing | undefined;
  readonly onCreated: (id: number) => void;
  readonly onClose: () => void;
}

/** Everything about a tag, and changing it. */
export function TagLeaf({ tag, drafted, onCreated, onClose }: Props) {
  const life = useTagLife(tag, drafted);
  // What is in the draft is looked at as it stands there.
  const [changing, setChanging] = useState(drafted !== undefined);
  const { data: coverage } = useCoverage([tag.id]);
  const zone = useZone();
  const siteZone = useWindowState((state) => state.siteZone);
  const go = useGo();
  const { data: session } = useSession();
  const sample = useLiveSample(tag.id) ?? tag.latest;
  const [now, setNow] = useState(Date.now());
  useEffect(() => {
    const timer = setInterval(() => setNow(Date.now()), 500);
    return () => clearInterval(timer);
  }, []);
  const row = coverageOf(coverage, tag);
  const since = Date.parse(tag.inForceSince);
  const gaps = row?.gaps ?? [];
  const address = tag.collection?.address;
  const time = sample ? Date.parse(sample.time) : 0;
  return (
    <Leaf
      title={tag.name}
      below={
        <>
          <LifeWord life={life} /> {[tag.description, tag.place].filter(Boolean).join(' · ')}
        </>
      }
      onClose={onClose}
    >
      <p className="font-mono text-[26px] leading-tight" data-testid="leaf-value">
        {sample ? showValue(sample.value) : '—'} <span className="text-[13px] text-ink-2">{tag.unit}</span>
      </p>
      <p className="mb-2.5 text-ink-2" title={sample ? bothZones(time, siteZone) : undefined}>
        {sample ? (
          <>
            <span className={GRADE_COLOUR[gradeOf(sample.status)]}>{sample.quality}</span> · {stamp(time, zone)} (
            {offsetOf(time, zone)}) · {showAge(now - time)}
          </>
        ) : (
          'Nothing archived yet.'
        )}
      </p>
      {tag.refusal && <p className="mb-2 text-madder">{tag.refusal}</p>}
      <Strip label={tag.name} row={row} />
      <div className="mt-2 mb-2">
        {gaps.slice(0, 4).map((gap) => (
          <p key={gap.from} className="mb-1">
            <b className="font-semibold text-madder">
              {lengthWords(gap.seconds * 1000)} {gap.cause === 'no values' ? 'without values' : 'not watched'}
            </b>{' '}
            {windowWords(Date.parse(gap.from), Date.parse(gap.to), zone)}. {gap.sentence}
          </p>
        ))}
        {gaps.length === 0 && row && <p className="text-ink-2">{sentenceOf(wholeWords(row))}</p>}
      </div>
      <LookOrChange changing={changing} onChanging={setChanging} />
      {changing && <EditPanel kind="tag" ids={[tag.id]} onCreated={onCreated} />}
      {!changing && (
        <Facts
          rows={[
            ['Source', tag.collection?.source ?? (tag.inputs ? 'none: it is computed' : 'none: values are sent to it')],
            ...formulaRows(tag),
            ...(address
              ? ([['Address', <span className="figure wrap-anywhere">{where(address)}</span>]] as const)
              : []),
            [
              'Read',
              tag.collection
                ? `${plainWords(['intervalMilliseconds'], tag.collection.intervalMilliseconds)}${tag.collection.aligned ? ', aligned' : ''}${paceWords(tag)}`
                : '—',
            ],
            ['Kept when', keptWhen(tag)],
            [
              'Scaling',
              tag.collection?.scaling ? (
                <span className="figure">{`× ${showNumber(tag.collection.scaling.factor)} + ${showNumber(tag.collection.scaling.offset)}`}</span>
              ) : (
                'none'
              ),
            ],
            [
              'Range',
              <span className="figure">
                {tag.low === null || tag.high === null ? 'not given' : `${tag.low} – ${tag.high}`}
              </span>,
            ],
            ...(tag.formerNames.length > 0
              ? ([
                  ['Called before', <span className="figure wrap-anywhere">{tag.formerNames.join(', ')}</span>],
                ] as const)
              : []),
            ...labelRows(tag),
            ['Type', tag.type],
            ['Writable', tag.writable ? 'yes' : 'no'],
            ['Store', <StoreOfTag tag={tag} />],
            ['Between values', tag.stepped ? 'held until the next' : 'straight line'],
            ['In force since', stamp(since, zone)],
            [
              row?.estimate === undefined ? 'Watched' : 'With values',
              row ? `${row.watchedPercent.toFixed(2)} % of this window` : '…',
            ],
          ]}
        />
      )}
      <div className="mt-3 flex flex-wrap gap-2">
        <Button main onClick={() => go('/traces', { tags: tag.name })}>
          Open in Traces
        </Button>
        <Button onClick={() => go('/coverage', { words: tag.name })}>Open in Coverage</Button>
        {(tag.type === 'real' || tag.type === 'integer') && (
          <Button onClick={() => go('/keeping', { tags: tag.name })}>Try its keeping</Button>
        )}
      </div>
      {!changing && <TagChanges tag={tag.name} />}
      {tag.inputs && session?.scopes.includes('admin') && <ComputePast tag={tag.name} />}
      {tag.writable && session?.scopes.includes('operate') && <WriteValue tag={tag} />}
    </Leaf>
  );
}
