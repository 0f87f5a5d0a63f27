/** The gaps of a window, the latest first: as many rows as are on screen, of however many. */
import type { Gap } from '@wide-ledger/contract';
import { useVirtualizer } from '@tanstack/react-virtual';
import { useEffect, useRef } from 'react';
import { lengthWords, windowWords } from '../window/times.ts';
import { useZone } from '../window/windowStore.ts';
import { stateOf } from './states.ts';

const ROW_HEIGHT = 30;

interface Props {
  readonly gaps: readonly Gap[];
  readonly selected: string | null;
  readonly keyOf: (gap: Gap) => string;
  readonly onSelect: (key: string) => void;
}

export function GapList({ gaps, selected, keyOf, onSelect }: Props) {
  const box = useRef<HTMLDivElement>(null);
  const virtual = useVirtualizer({
    count: gaps.length,
    getScrollElement: () => box.current,
    estimateSize: () => ROW_HEIGHT,
    overscan: 6,
  });
  const at = selected === null ? -1 : gaps.findIndex((gap) => keyOf(gap) === selected);
  useEffect(() => {
    if (at >= 0) virtual.scrollToIndex(at, { align: 'auto' });
  }, [at, virtual]);
  return (
    <div
      ref={box}
      role="listbox"
      aria-label="Gaps"
      className="min-h-0 flex-1 overflow-y-auto [scrollbar-gutter:stable]"
      tabIndex={-1}
    >
      <div role="presentation" className="relative" style={{ height: virtual.getTotalSize() }}>
        {virtual.getVirtualItems().map(({ index, start, size }) => {
          const gap = gaps[index]!;
          const key = keyOf(gap);
          return (
            <div
              key={key}
              role="presentation"
              className="absolute inset-x-0"
              style={{ transform: `translateY(${start}px)`, height: size }}
            >
              <Row gap={gap} selected={selected === key} onSelect={() => onSelect(key)} />
            </div>
          );
        })}
      </div>
    </div>
  );
}

function Row({
  gap,
  selected,
  onSelect,
}: {
  readonly gap: Gap;
  readonly selected: boolean;
  readonly onSelect: () => void;
}) {
  const zone = useZone();
  const { word, colour, says } = stateOf(gap);
  const whole = [gap.tag ?? `${gap.tags} tags`, ...(gap.source ? [`of ${gap.source}`] : [])].join(' ');
  return (
    <div
      role="option"
      tabIndex={0}
      data-gap
      aria-selected={selected}
      onClick={onSelect}
      onKeyDown={(event) => event.key === 'Enter' && onSelect()}
      className={`row flex cursor-pointer items-center gap-3 border-l-[3px] ${selected ? 'border-l-verdigris bg-raised' : 'border-l-transparent hover:bg-raised'}`}
    >
      <span className="figure w-56 truncate pl-[3px] max-[1100px]:w-40">
        {windowWords(Date.parse(gap.from), Date.parse(gap.to), zone)}
      </span>
      <span className="figure w-24 text-right max-[1100px]:w-14" data-length>
        {lengthWords(gap.seconds * 1000)}
      </span>
      <span className="min-w-0 flex-1 truncate">{gap.explained?.reason ?? gap.sentence}</span>
      <span className="w-44 truncate max-[1100px]:w-24" title={whole}>
        {gap.tag ?? gap.source ?? whole}
      </span>
      <span className={`w-28 ${colour}`} title={says} data-state>
        {word}
      </span>
    </div>
  );
}
