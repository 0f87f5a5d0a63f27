import type { CoverageAnswer, Tag } from '@wide-ledger/contract';
import { useLiveSample } from '../server/live.ts';
import { Strip } from '../strip/Strip.tsx';
import { coverageOf } from '../strip/coverageOf.ts';
import { QualityNow, ValueNow } from '../tags/TagNow.tsx';
import { placeInRange } from './wrong.ts';

interface Props {
  readonly tag: Tag;
  readonly coverage: CoverageAnswer | undefined;
  readonly selected: boolean;
  readonly onSelect: () => void;
}

/** A tag as it is now: its value, where that lies in its range, and whether it was watched. */
export function PlaceRow({ tag, coverage, selected, onSelect }: Props) {
  const sample = useLiveSample(tag.id) ?? tag.latest;
  return (
    <div
      role="option"
      tabIndex={0}
      aria-selected={selected}
      data-tag={tag.name}
      onClick={onSelect}
      onKeyDown={(event) => {
        if (event.key === 'Enter') onSelect();
      }}
      className={`flex h-full cursor-pointer items-center gap-3 border-b border-l-[3px] border-b-rule pr-3 pl-1 ${selected ? 'border-l-verdigris bg-raised' : 'border-l-transparent hover:bg-raised'}`}
    >
      <span className="figure w-36 shrink-0 truncate">{tag.name}</span>
      <span className="min-w-0 flex-1 truncate">{tag.description}</span>
      <ValueNow tag={tag} sample={sample} />
      <RangeBar tag={tag} value={sample?.value} />
      <QualityNow sample={sample} />
      <div className="w-[24%]">
        <Strip label={tag.name} row={coverageOf(coverage, tag)} />
      </div>
    </div>
  );
}

/** Where a value lies between the ends of its tag's range; nothing where it has none. */
function RangeBar({ tag, value }: { readonly tag: Tag; readonly value: Parameters<typeof placeInRange>[1] }) {
  const there = placeInRange(tag, value);
  if (!there) return <span className="w-28 shrink-0" />;
  const words = `${tag.low} to ${tag.high} ${tag.unit}${there.isOutside ? '; the value lies outside' : ''}`;
  const colour = there.isOutside ? 'var(--madder)' : 'var(--verdigris)';
  return (
    <span className="w-28 shrink-0" title={words}>
      <svg width="112" height="12" role="img" aria-label={words} className="block">
        <line x1="1" y1="6" x2="111" y2="6" stroke="var(--edge)" strokeWidth="1.5" />
        <line x1="1" y1="2" x2="1" y2="10" stroke="var(--edge)" strokeWidth="1.5" />
        <line x1="111" y1="2" x2="111" y2="10" stroke="var(--edge)" strokeWidth="1.5" />
        <rect x={1 + there.at * 106} y="1" width="4" height="10" fill={colour} />
      </svg>
    </span>
  );
}
