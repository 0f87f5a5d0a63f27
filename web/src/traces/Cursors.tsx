/** Two cursors over the chart, and what lies between them: difference, average and integral of every tag. */
import { useQueries } from '@tanstack/react-query';
import { useRef } from 'react';
import { showNumber } from '../controls/values.ts';
import { get } from '../server/calls.ts';
import { clock, lengthWords, offsetOf, stamp } from '../window/times.ts';
import type { Trace } from './chart.ts';

interface HandleProps {
  readonly cursors: readonly [number, number];
  readonly from: number;
  readonly to: number;
  readonly zone: string;
  readonly inset: { readonly left: number; readonly right: number };
  readonly onMove: (cursors: [number, number]) => void;
}

const NAMES = ['A', 'B'] as const;
const CURSOR_FORMAT = 'd LLL HH:mm:ss';

/** The cursors themselves: dragged by pointer, moved by arrow keys, with Shift in small steps. */
export function CursorHandles({ cursors, from, to, zone, inset, onMove }: HandleProps) {
  const box = useRef<HTMLDivElement>(null);
  const move = (index: number, time: number): void => {
    const next: [number, number] = [...cursors];
    next[index] = Math.round(Math.min(to, Math.max(from, time)));
    onMove(next);
  };
  const timeAt = (x: number): number => {
    const { left, width } = box.current!.getBoundingClientRect();
    return from + ((x - left) / width) * (to - from);
  };
  return (
    <div ref={box} className="pointer-events-none absolute inset-y-0" style={{ left: inset.left, right: inset.right }}>
      {cursors.map((time, index) => {
        const share = (time - from) / (to - from);
        if (share < 0 || share > 1) return null;
        return (
          <div
            key={NAMES[index]}
            role="slider"
            tabIndex={0}
            aria-label={`Cursor ${NAMES[index]}`}
            aria-valuemin={from}
            aria-valuemax={to}
            aria-valuenow={time}
            aria-valuetext={`${stamp(time, zone)} (${offsetOf(time, zone)})`}
            className="pointer-events-auto absolute inset-y-0 -ml-2 w-4 cursor-ew-resize touch-none"
            style={{ left: `${share * 100}%` }}
            onPointerDown={(event) => event.currentTarget.setPointerCapture(event.pointerId)}
            onPointerMove={(event) => event.buttons === 1 && move(index, timeAt(event.clientX))}
            onKeyDown={(event) => {
              const direction = event.key === 'ArrowLeft' ? -1 : event.key === 'ArrowRight' ? 1 : 0;
              if (direction === 0) return;
              event.preventDefault();
              move(index, time + (direction * (to - from)) / (event.shiftKey ? 1000 : 100));
            }}
          >
            <span className="absolute inset-y-0 left-1/2 w-px bg-ink" />
            <span className="figure absolute top-0 left-1/2 -translate-x-1/2 rounded-paper bg-ink px-1 text-paper">
              {NAMES[index]}
            </span>
          </div>
        );
      })}
    </div>
  );
}

interface Reading {
  readonly a: number | null;
  readonly b: number | null;
  readonly average: number | null;
  readonly integral: number | null;
  readonly integralUnit: string;
}

const numberOf = (value: unknown): number | null => (typeof value === 'number' ? value : null);

async function readBetween(trace: Trace, from: number, to: number, signal: AbortSignal): Promise<Reading> {
  const [start, end] = [new Date(from).toISOString(), new Date(to).toISOString()];
  const tag = trace.tag;
  const window = { tag, from: start, to: end, interval: 'PT0S' };
  const [at, average, integral] = await Promise.all([
    get<{ samples: { value: unknown }[] }>('/history/at', { tag, times: `${start},${end}` }, signal),
    get<{ rows: { value: unknown }[] }>(
      '/history/processed',
      { ...window, aggregate: trace.stepped ? 'TimeAverage2' : 'TimeAverage', stepped: trace.stepped },
      signal,
    ),
    // A tag whose unit adds up to nothing has no integral; that is no failure of the others.
    get<{ unit: string; rows: { value: unknown }[] }>(
      '/history/computed',
      { ...window, computation: 'integral' },
      signal,
    ).catch(() => null),
  ]);
  return {
    a: numberOf(at.samples[0]?.value),
    b: numberOf(at.samples[1]?.value),
    average: numberOf(average.rows[0]?.value),
    integral: numberOf(integral?.rows[0]?.value),
    integralUnit: integral?.unit ?? '',
  };
}

interface ReadingProps {
  readonly traces: readonly Trace[];
  readonly cursors: readonly [number, number];
  readonly zone: string;
}

/** The figures between the cursors. */
export function CursorReadings({ traces, cursors, zone }: ReadingProps) {
  const [from, to] = [Math.min(...cursors), Math.max(...cursors)];
  const readings = useQueries({
    queries: traces.map((trace) => ({
      queryKey: ['between', trace.tag, from, to, trace.stepped],
      queryFn: ({ signal }: { signal: AbortSignal }) => readBetween(trace, from, to, signal),
      enabled: from < to,
      placeholderData: (before: Reading | undefined) => before,
    })),
  });
  const figure = (value: number | null | undefined): string => (typeof value === 'number' ? showNumber(value) : '—');
  return (
    <table className="mb-2 w-full" data-testid="cursor-readings">
      <thead className="text-ink-2">
        <tr className="border-b border-ink/70 text-right">
          <th className="figure pl-1.5 text-left font-normal whitespace-nowrap">
            A {clock(cursors[0], zone, CURSOR_FORMAT)} · B {clock(cursors[1], zone, CURSOR_FORMAT)} ·{' '}
            {lengthWords(to - from)}
          </th>
          {['at A', 'at B', 'B − A', 'average', 'integral'].map((name) => (
            <th key={name} className="w-28 font-normal last:w-44">
              {name}
            </th>
          ))}
        </tr>
      </thead>
      <tbody>
        {traces.map((trace, i) => {
          const reading = readings[i]?.data;
          const [a, b] = cursors[0] <= cursors[1] ? [reading?.a, reading?.b] : [reading?.b, reading?.a];
          const difference = typeof a === 'number' && typeof b === 'number' ? b - a : null;
          return (
            <tr key={trace.tag} className="border-b border-rule text-right">
              <td className="figure pl-1.5 text-left">
                {trace.tag} <span className="text-ink-2">{trace.unit}</span>
              </td>
              <td className="figure">{figure(a)}</td>
              <td className="figure">{figure(b)}</td>
              <td className="figure">{figure(difference)}</td>
              <td className="figure">{figure(reading?.average)}</td>
              <td className="figure">
                {figure(reading?.integral)} <span className="text-ink-2">{reading?.integralUnit}</span>
              </td>
            </tr>
          );
        })}
      </tbody>
    </table>
  );
}
