/** The last days with the site's coverage; the window is a bracket to drag and stretch. */
import { useRef, type KeyboardEvent, type PointerEvent } from 'react';
import { useWidth } from '../controls/useWidth.ts';
import { useRibbon } from '../server/queries.ts';
import { ticksOf } from './ticks.ts';
import { clock, lengthWords, windowWords } from './times.ts';
import { hold, showLast, useWindow, useZone } from './windowStore.ts';

const DAY = 86_400_000;
/** How many days the ribbon shows: the shortest that has room for the window. */
const SPANS = [14, 60, 200, 420, 1200, 4000, 12_000];
const daysFor = (length: number): number => SPANS.find((days) => days * DAY >= 1.04 * length) ?? SPANS.at(-1)!;
/** Pixels that a label takes, with some air; and so many are enough. */
const LABEL = 72;
const MOST_LABELS = 8;
/** Pixels at either end of the bracket that stretch it rather than move it. */
const GRIP = 6;

type Drag = { readonly kind: 'move' | 'from' | 'to'; readonly x: number; readonly from: number; readonly to: number };

export function Ribbon() {
  const { from, to } = useWindow();
  const shown = daysFor(to - from);
  const { data } = useRibbon(shown);
  const zone = useZone();
  const box = useRef<HTMLDivElement>(null);
  const drag = useRef<Drag | null>(null);
  const end = Math.max(to, data ? Date.parse(data.to) : to);
  const start = end - shown * DAY;
  const place = (time: number): number => Math.min(100, Math.max(0, ((time - start) / (end - start)) * 100));
  const gaps = data?.rows.filter((row) => row.tag === null).flatMap((row) => row.gaps) ?? [];
  const left = place(from);
  const width = Math.max(place(to) - left, 0.6);
  const room = Math.floor(useWidth(box, 560) / LABEL);
  const { times, format } = ticksOf(start, end, zone, Math.min(MOST_LABELS, Math.max(2, room)));

  const grab = (event: PointerEvent<HTMLDivElement>): void => {
    const bounds = event.currentTarget.getBoundingClientRect();
    const inside = event.clientX - bounds.left;
    const kind = inside < GRIP ? 'from' : bounds.width - inside < GRIP ? 'to' : 'move';
    drag.current = { kind, x: event.clientX, from, to };
    event.currentTarget.setPointerCapture(event.pointerId);
  };
  const pull = (event: PointerEvent<HTMLDivElement>): void => {
    if (!drag.current || !box.current) return;
    const { kind, x, from: oldFrom, to: oldTo } = drag.current;
    const moved = ((event.clientX - x) / box.current.clientWidth) * (end - start);
    if (Math.abs(event.clientX - x) < 2) return;
    const newFrom = kind === 'to' ? oldFrom : oldFrom + moved;
    const newTo = kind === 'from' ? oldTo : Math.min(oldTo + moved, Date.now());
    if (newTo - newFrom > 60_000) hold(newFrom, newTo);
  };
  const byKey = (event: KeyboardEvent): void => {
    const length = to - from;
    const step = length / 4;
    if (event.key === 'ArrowLeft') hold(from - step, to - step);
    else if (event.key === 'ArrowRight') hold(from + step, Math.min(to + step, Date.now()));
    else if (event.key === '+') hold(from + length / 4, to - length / 4);
    else if (event.key === '-') hold(from - length / 2, Math.min(to + length / 2, Date.now()));
    else if (event.key === 'End') showLast(length);
    else return;
    event.preventDefault();
  };

  return (
    <div ref={box} className="relative h-10 min-w-0 flex-1" data-testid="ribbon">
      {times.map((day) => (
        <span
          key={day}
          className="figure absolute top-0 whitespace-nowrap text-ink-2"
          // The last one stays within the ribbon: beside it stands the window.
          style={{ left: `${place(day)}%`, transform: `translateX(-${Math.min(100, place(day))}%)`, fontSize: 11 }}
        >
          {clock(day, zone, format)}
        </span>
      ))}
      <div className="absolute inset-x-0 top-5 h-2.5 bg-rule" />
      {data?.rows
        .filter((row) => row.tag === null)
        .flatMap((row) => row.spans)
        .map((span) => (
          <div
            key={`${span.from}${span.origin}`}
            className="absolute top-5 h-2.5 bg-edge"
            style={{
              left: `${place(Date.parse(span.from))}%`,
              width: `${place(Date.parse(span.to)) - place(Date.parse(span.from))}%`,
            }}
          />
        ))}
      {gaps.map((gap) => (
        <div
          key={gap.from}
          className="absolute top-[18px] h-3.5 min-w-1.5 border-[1.5px] border-madder bg-raised"
          style={{
            left: `min(${place(Date.parse(gap.from))}%, calc(100% - 6px))`,
            width: `${place(Date.parse(gap.to)) - place(Date.parse(gap.from))}%`,
          }}
          title={`${lengthWords(gap.seconds * 1000)} not watched: ${gap.sentence}`}
        />
      ))}
      <div
        className="pointer-events-none absolute top-3.5 h-5.5 min-w-2 border-2 border-verdigris bg-wash"
        style={{ left: `${Math.min(left, 100 - width)}%`, width: `${width}%` }}
      />
      {/* What is grabbed is never smaller than a finger, however short the window. */}
      <div
        role="slider"
        tabIndex={0}
        aria-label="Time window. Arrows move it, plus and minus stretch it, End makes it live."
        aria-valuemin={start}
        aria-valuemax={end}
        aria-valuenow={to}
        aria-valuetext={windowWords(from, to, zone)}
        className="absolute top-3 h-6 min-w-6 cursor-grab touch-none"
        style={{ left: `min(${left}%, calc(100% - 24px))`, width: `${width}%` }}
        onPointerDown={grab}
        onPointerMove={pull}
        onPointerUp={() => (drag.current = null)}
        onKeyDown={byKey}
      />
    </div>
  );
}
