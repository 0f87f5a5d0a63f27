/** The tags of one source, with what they hold now: as many as are on screen, more as one scrolls. */
import type { Tag } from '@wide-ledger/contract';
import { useVirtualizer } from '@tanstack/react-virtual';
import { useRef } from 'react';
import { Link, useLocation } from 'react-router';
import { Failure } from '../controls/States.tsx';
import { useMoreAt } from '../controls/useMoreAt.ts';
import { GRADE_COLOUR, gradeOf, showNumber, showValue } from '../controls/values.ts';
import { searchWith } from '../frame/useGo.ts';
import { useFollow, useLiveSample } from '../server/live.ts';
import { useTags } from '../server/queries.ts';

const ROW_HEIGHT = 26;
const MOST_HEIGHT = 10 * ROW_HEIGHT;

export function TagsOfSource({ id }: { readonly id: number }) {
  const pages = useTags('', undefined, id);
  const { data, error } = pages;
  const tags = data?.pages.flatMap((page) => page.tags) ?? [];
  const box = useRef<HTMLDivElement>(null);
  const virtual = useVirtualizer({
    count: tags.length,
    getScrollElement: () => box.current,
    estimateSize: () => ROW_HEIGHT,
    overscan: 4,
  });
  const shown = virtual.getVirtualItems();
  useMoreAt(shown.at(-1)?.index ?? 0, tags.length, pages);
  useFollow(shown.map(({ index }) => tags[index]!.id));
  if (error) return <Failure error={error} />;
  if (!data || tags.length === 0) return null;
  return (
    <section aria-label="Tags of this source" className="mt-4">
      <h3 className="mb-1 font-semibold">
        Its tags <span className="figure font-normal text-ink-2">{showNumber(data.pages[0]!.total)}</span>
      </h3>
      <div
        ref={box}
        className="overflow-auto border-t border-rule"
        style={{ height: Math.min(MOST_HEIGHT, tags.length * ROW_HEIGHT) }}
      >
        <ul className="relative" style={{ height: virtual.getTotalSize() }}>
          {shown.map(({ index, start }) => (
            <li
              key={tags[index]!.id}
              className="absolute inset-x-0 border-b border-rule"
              style={{ height: ROW_HEIGHT, transform: `translateY(${start}px)` }}
            >
              <Row tag={tags[index]!} />
            </li>
          ))}
        </ul>
      </div>
    </section>
  );
}

function Row({ tag }: { readonly tag: Tag }) {
  const sample = useLiveSample(tag.id) ?? tag.latest;
  const grade = sample ? gradeOf(sample.status) : 'Bad';
  const { search } = useLocation();
  return (
    <Link
      to={`/tags${searchWith(search, { row: tag.name })}`}
      className="flex h-full items-center gap-2 hover:bg-raised"
    >
      <span className="figure min-w-0 flex-1 truncate" title={tag.description}>
        {tag.name}
      </span>
      <span className="figure">{sample ? showValue(sample.value) : '—'}</span>
      <span className="figure w-12 truncate text-ink-2">{tag.unit}</span>
      <span
        className={`figure w-4 text-center ${GRADE_COLOUR[grade]}`}
        title={sample?.quality ?? 'nothing archived yet'}
      >
        {sample ? grade[0] : '·'}
      </span>
    </Link>
  );
}
