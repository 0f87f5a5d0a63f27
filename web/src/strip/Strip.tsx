/** The strip: the window drawn left to right, filled where it was covered, by origin; gaps left open and outlined. */
import type { Gap } from '@wide-ledger/contract';
import type { Origin } from '@wide-ledger/core';
import { lengthWords, windowWords } from '../window/times.ts';
import { useWindow, useZone } from '../window/windowStore.ts';
import { wholeWords, type StripRow } from './stripRow.ts';

/** Told apart by pattern as well as by colour. */
const PATTERN: Record<Origin, string> = {
  live: 'bg-strip',
  buffered: 'strip-hatched',
  backfilled: 'strip-dotted',
  carried: 'strip-lined',
  corrected: 'bg-strip',
  entered: 'bg-strip',
  derived: 'bg-strip',
};

/** What is said of a gap that is not simply open. */
const FATES: Partial<Record<Gap['state'], string>> = { gone: 'Gone for good.', 'being recovered': 'Being recovered.' };

interface Props {
  /** Undefined while the coverage is on its way. */
  readonly row: StripRow | undefined;
  readonly label: string;
}

export function Strip({ row, label }: Props) {
  const { from, to } = useWindow();
  const zone = useZone();
  if (!row) return <div className="h-2.5 w-full bg-rule" />;
  const place = (time: number): number => Math.min(100, Math.max(0, ((time - from) / (to - from)) * 100));
  const box = (start: string, end: string): { left: string; width: string } => {
    const left = place(Date.parse(start));
    return { left: `${left}%`, width: `${Math.max(0, place(Date.parse(end)) - left)}%` };
  };
  const gaps = row.gaps.filter((gap) => Date.parse(gap.to) > from && Date.parse(gap.from) < to);
  const words = gaps.map((gap) => {
    const when = windowWords(Date.parse(gap.from), Date.parse(gap.to), zone);
    const length = lengthWords(gap.seconds * 1000);
    if (gap.cause === 'no values') return `${length} without values, ${when}: ${gap.sentence}`;
    const fate = FATES[gap.state] ?? (gap.recoverable ? 'Recoverable.' : 'Not recoverable.');
    return `${length} not watched, ${when}: ${gap.sentence} ${fate}`;
  });
  const summary = `${label}: ${gaps.length === 0 ? wholeWords(row) : words.join(' ')}`;
  return (
    <div
      role="img"
      tabIndex={0}
      aria-label={summary}
      title={summary}
      className="relative h-2.5 w-full overflow-visible"
      data-gaps={gaps.length}
    >
      {row.duty.map((span) => (
        // Outside of duty nobody was meant to watch: there the line is missing.
        <div
          key={`duty ${span.from}`}
          className="absolute top-1/2 h-px -translate-y-1/2 bg-edge"
          style={box(span.from, span.to)}
        />
      ))}
      {row.spans.map((span) => (
        <div
          key={span.from + span.origin}
          className={`absolute inset-y-0 min-w-px ${PATTERN[span.origin]}`}
          style={box(span.from, span.to)}
        />
      ))}
      {gaps.map((gap) => (
        <div
          key={gap.from}
          className="absolute -inset-y-px min-w-1.5 border-[1.5px] border-madder bg-paper"
          style={box(gap.from, gap.to)}
        />
      ))}
    </div>
  );
}

/** What the patterns mean. */
export function StripLegend() {
  const entries: readonly [string, string][] = [
    ['live', 'bg-strip'],
    ['buffered', 'strip-hatched'],
    ['backfilled', 'strip-dotted'],
    ['gap', 'border-[1.5px] border-madder'],
  ];
  return (
    <div className="flex gap-4 py-2 text-ink-2">
      {entries.map(([name, look]) => (
        <span key={name} className="flex items-center gap-1.5">
          <span className={`inline-block h-2 w-5.5 ${look}`} /> {name}
        </span>
      ))}
    </div>
  );
}
