/** The trend itself: a canvas kept alive while its data change. */
import { useEffect, useRef } from 'react';
import { useTheme } from '../frame/theme.ts';
import { hold } from '../window/windowStore.ts';
import { Chart, configuration, type Trace, type TraceChart } from './chart.ts';

interface Props {
  readonly traces: readonly Trace[];
  readonly from: number;
  readonly to: number;
  readonly zone: string;
  /** Told how far the plot stands off the canvas's edges, so that what lies below can line up with it. */
  readonly onInset: (left: number, right: number) => void;
}

export function TraceCanvas({ traces, from, to, zone, onInset }: Props) {
  const canvas = useRef<HTMLCanvasElement>(null);
  const chart = useRef<TraceChart | null>(null);
  const theme = useTheme((state) => state.theme);

  useEffect(() => {
    const settings = configuration({ traces, from, to, zone, onWindow: hold });
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
  }, [traces, from, to, zone, theme, onInset]);

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
