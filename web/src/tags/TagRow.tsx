/** A tag's row: whether it is marked, how it stands, its value now, its strip. */
import type { CoverageAnswer, Tag } from '@wide-ledger/contract';
import { LifeWord, lifeOf } from '../configuration/Life.tsx';
import type { Standing } from '../configuration/drafting.ts';
import { Mark } from '../controls/Mark.tsx';
import { useLiveSample } from '../server/live.ts';
import { useSources } from '../server/queries.ts';
import { Strip } from '../strip/Strip.tsx';
import { coverageOf } from '../strip/coverageOf.ts';
import { QualityNow, ValueNow } from './TagNow.tsx';
import { clock } from '../window/times.ts';
import { useWindow, useZone } from '../window/windowStore.ts';

export function ListHead() {
  const { from, to } = useWindow();
  const zone = useZone();
  const format = to - from > 2 * 86_400_000 ? 'd LLL' : 'HH:mm';
  return (
    <div className="flex h-8 shrink-0 items-center gap-3 border-b border-ink/70 pr-3 text-ink-2">
      <span className="w-36 pl-7">Tag</span>
      <span className="min-w-0 flex-1">Description</span>
      <span className="w-32 text-right">Now</span>
      <span className="w-4 text-center" title="Quality: Good, Uncertain, Bad">
        Q
      </span>
      <span className="figure flex w-[30%] max-[1100px]:w-[22%] justify-between">
        {[from, (from + to) / 2, to].map((time) => (
          <span key={time}>{clock(time, zone, format)}</span>
        ))}
      </span>
    </div>
  );
}

interface Props {
  readonly tag: Tag;
  readonly coverage: CoverageAnswer | undefined;
  readonly drafted: Standing | undefined;
  readonly selected: boolean;
  readonly marked: boolean;
  readonly onSelect: () => void;
  readonly onMark: () => void;
}

const LOOK = 'flex h-full cursor-pointer items-center gap-3 border-b border-l-[3px] border-b-rule pr-3';

/** How a tag stands, by the same word everywhere. */
export function useTagLife(tag: Tag, drafted: Standing | undefined) {
  const { data: sources } = useSources();
  const runs = sources?.find(({ id }) => id === tag.sourceId)?.runs;
  return lifeOf({
    drafted: drafted?.life,
    retired: tag.retired,
    paused: tag.collection?.paused ?? false,
    toldVersion: tag.collection && sources ? tag.toldVersion : null,
    runs: runs ?? null,
    refused: tag.refusal !== null,
  });
}

export function TagRow({ tag, coverage, drafted, selected, marked, onSelect, onMark }: Props) {
  const life = useTagLife(tag, drafted);
  const sample = useLiveSample(tag.id) ?? tag.latest;
  return (
    <div
      role="option"
      tabIndex={0}
      aria-selected={selected || marked}
      data-tag={tag.name}
      onClick={(event) => (event.ctrlKey || event.metaKey ? onMark() : onSelect())}
      onKeyDown={(event) => {
        if (event.key === 'Enter') onSelect();
        if (event.key === ' ') {
          event.preventDefault();
          onMark();
        }
      }}
      className={`${LOOK} ${selected ? 'border-l-verdigris bg-raised' : marked ? 'border-l-ochre bg-raised' : 'border-l-transparent hover:bg-raised'}`}
    >
      <span className="flex w-36 items-center gap-2 pl-[3px]">
        <Mark marked={marked} name={tag.name} onMark={onMark} />
        <span className="figure truncate">{tag.name}</span>
      </span>
      <span className="min-w-0 flex-1 truncate">
        {life !== 'in force' && (
          <>
            <LifeWord life={life} />{' '}
          </>
        )}
        {tag.description}
      </span>
      <ValueNow tag={tag} sample={sample} />
      <QualityNow sample={sample} />
      <div className="w-[30%] max-[1100px]:w-[22%]">
        <Strip label={tag.name} row={coverageOf(coverage, tag)} />
      </div>
    </div>
  );
}

/** A tag that is only in the draft: nothing is known of it but what the draft says. */
export function DraftTagRow({
  standing,
  selected,
  onSelect,
}: {
  readonly standing: Standing;
  readonly selected: boolean;
  readonly onSelect: () => void;
}) {
  const { name = '', description = '', unit = '' } = (standing.body ?? {}) as Readonly<Record<string, string>>;
  return (
    <div
      role="option"
      tabIndex={0}
      aria-selected={selected}
      data-tag={name}
      onClick={onSelect}
      onKeyDown={(event) => event.key === 'Enter' && onSelect()}
      className={`${LOOK} ${selected ? 'border-l-verdigris bg-raised' : 'border-l-transparent hover:bg-raised'}`}
    >
      <span className="figure w-36 truncate pl-7">{name || 'without a name'}</span>
      <span className="min-w-0 flex-1 truncate">
        <LifeWord life={standing.life} /> {description}
      </span>
      <span className="figure w-32 text-right text-ink-2">{unit}</span>
      <span className="w-4" />
      <span className="w-[30%] max-[1100px]:w-[22%]" />
    </div>
  );
}
