/** The trend itself: a canvas kept alive while its data change. */
import type { Annotation } from '@wide-ledger/contract';
import { useEffect, useRef } from 'react';
import { useTheme } from '../frame/theme.ts';
import { hold } from '../window/windowStore.ts';
import { Chart, configuration, type Trace, type TraceChart } from './chart.ts';
import type { Hovered } from './points.ts';

interface Props {
  readonly traces: readonly Trace[];
  readonly annotations: readonly Annotation[];
  readonly logarithmic: boolean;
  readonly lanes: boolean;
  readonly from: number;
  readonly to: number;
  readonly zone: string;
  /** Told how far the plot stands off the canvas's edges, so that what lies below can line up with it. */
  readonly onInset: (left: number, right: number) => void;
  readonly onHover: (hovered: Hovered | null) => void;
}

export function TraceCanvas({ traces, annotations, logarithmic, lanes, from, to, zone, onInset, onHover }: Props) {
  const canvas = useRef<HTMLCanvasElement>(null);
  const chart = useRef<TraceChart | null>(null);
  const theme = useTheme((state) => state.theme);

  useEffect(() => {
    const settings = configuration({
      traces,
      annotations,
      logarithmic,
      lanes,
      from,
      to,
      zone,
      onWindow: hold,
      onHover,
    });
    const known = chart.current;
    const current = known ?? new Chart(canvas.current!, settings);
    chart.current = current;
    if (known) {
      known.data = settings.data;
      known.options = settings.options!;
      known.update('none');
    } else {
      void document.fonts.load("11px 'Spline Sans Mono Variable'").then(() => chart.current?.update('none'));
    }
    onInset(current.chartArea.left, current.width - current.chartArea.right);
  }, [traces, annotations, logarithmic, lanes, from, to, zone, theme, onInset, onHover]);

  useEffect(
    () => () => {
      chart.current?.destroy();
      chart.current = null;
    },
    [],
  );

  const words = traces
    .map(
      ({ tag, envelope }) =>
        `${tag}: ${envelope ? `${envelope.samples} values, ${envelope.gaps.length} gaps` : 'loading'}`,
    )
    .join('; ');
  return (
    <div className="relative min-h-0 flex-1">
      <canvas
        ref={canvas}
        role="img"
        aria-label={`Trend. ${words}. The table below holds the figures.`}
        data-testid="trend"
        data-last={Math.max(0, ...traces.map((trace) => trace.envelope?.times.at(-1) ?? 0))}
      />
    </div>
  );
}
