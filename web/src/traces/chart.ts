/** Chart.js as Wide Ledger uses it: only what is drawn, in our type and colours. */
import { Chart, registerables, type ChartConfiguration, type ChartDataset } from 'chart.js';
import annotation, { type AnnotationOptions } from 'chartjs-plugin-annotation';
import zoom from 'chartjs-plugin-zoom';
import 'chartjs-adapter-luxon';
import type { Annotation, EnvelopeAnswer } from '@wide-ledger/contract';
import { lengthWords, offsetOf, stamp } from '../window/times.ts';
import { bandOf, isSolid, pointsOf, type Hovered, type Point } from './points.ts';
import { ticksOf } from '../window/ticks.ts';

Chart.register(...registerables, annotation, zoom);
Chart.defaults.font.family = "'Spline Sans Mono Variable', monospace";
Chart.defaults.font.size = 11;
Chart.defaults.animation = false;

export type TraceChart = Chart<'line', Point[]>;
export interface Trace {
  readonly tag: string;
  readonly unit: string;
  readonly stepped: boolean;
  readonly right: boolean;
  readonly envelope: EnvelopeAnswer | undefined;
}

/** Pens in order: colour and dash, so that two lines differ without colour too. */
export const PENS: readonly { readonly colour: string; readonly dash: number[] }[] = [
  { colour: '--verdigris', dash: [] },
  { colour: '--plum', dash: [7, 3] },
  { colour: '--slate', dash: [2, 2] },
  { colour: '--ochre', dash: [9, 3, 2, 3] },
];
export const penOf = (index: number): (typeof PENS)[number] => PENS[index % PENS.length]!;

/** A colour of the theme in force. */
const ink = (name: string): string => getComputedStyle(document.documentElement).getPropertyValue(name).trim();

/** A range is told apart by stretches of so many pixels of a wide chart. */
const STRETCHES = 400;
/** A colour of the theme, mostly transparent. */
const pale = (name: string): string => `${ink(name)}38`;

type Dataset = ChartDataset<'line', Point[]> & { readonly trace: number };

/** A line for each trace; for one that would be a block of ink, its range as a band. */
function datasetsOf(traces: readonly Trace[], axisOf: (trace: Trace) => string): Dataset[] {
  return traces.flatMap((trace, index): Dataset[] => {
    const { colour, dash } = penOf(index);
    const common = {
      label: trace.tag,
      trace: index,
      borderColor: ink(colour),
      backgroundColor: ink(colour),
      borderDash: dash,
      borderWidth: 1.4,
      pointRadius: 0,
      pointHitRadius: 6,
      spanGaps: false,
      stepped: trace.stepped ? ('before' as const) : false,
      yAxisID: axisOf(trace),
      normalized: true,
      parsing: false,
    } satisfies Partial<Dataset>;
    if (!trace.envelope) return [{ ...common, data: [] }];
    if (!isSolid(trace.envelope)) return [{ ...common, data: pointsOf(trace.envelope) }];
    const { low, high } = bandOf(trace.envelope, STRETCHES);
    const edge = { ...common, borderWidth: 0.8, stepped: false } as const;
    return [
      { ...edge, label: `${trace.tag} least`, data: [...low], fill: '+1', backgroundColor: pale(colour) },
      { ...edge, label: `${trace.tag} greatest`, data: [...high] },
    ];
  });
}

/** A dashed box over every gap, with its length. @param axes over whose height it goes, each by itself. */
function gapBoxes(
  traces: readonly Trace[],
  axes: readonly string[],
  from: number,
  to: number,
): Record<string, AnnotationOptions> {
  const boxes: Record<string, AnnotationOptions> = {};
  for (const gap of traces.flatMap((trace) => trace.envelope?.gaps ?? [])) {
    const wide = (gap.to - gap.from) / (to - from) > 0.05;
    for (const [i, yScaleID] of axes.entries())
      boxes[`${gap.from} ${yScaleID}`] = {
        type: 'box',
        yScaleID,
        xMin: gap.from,
        xMax: gap.to,
        borderColor: ink('--madder'),
        borderWidth: 1,
        borderDash: [3, 3],
        backgroundColor: 'transparent',
        label: {
          display: wide && i === 0,
          content: `${lengthWords(gap.to - gap.from)} gap`,
          position: { x: 'center', y: 'start' },
          color: ink('--madder'),
          font: { size: 11 },
        },
      };
  }
  return boxes;
}

/** A thin line at every annotation, with a number that the list below repeats. */
function noteLines(annotations: readonly Annotation[]): Record<string, AnnotationOptions> {
  return Object.fromEntries(
    annotations.map(({ tag, id, time }, i): [string, AnnotationOptions] => [
      `note ${tag} ${id}`,
      {
        type: 'line',
        xMin: Date.parse(time),
        xMax: Date.parse(time),
        borderColor: ink('--slate'),
        borderWidth: 1,
        borderDash: [1, 3],
        label: {
          display: true,
          content: String(i + 1),
          position: 'end',
          backgroundColor: ink('--slate'),
          color: ink('--paper'),
          padding: { x: 4, y: 1 },
          font: { size: 10 },
        },
      },
    ]),
  );
}

/** Whatever unit the library thinks in, ticks are written as we made them. */
const TIME_UNITS = ['millisecond', 'second', 'minute', 'hour', 'day', 'week', 'month', 'quarter', 'year'];

interface Settings {
  readonly traces: readonly Trace[];
  readonly from: number;
  readonly to: number;
  readonly zone: string;
  readonly annotations: readonly Annotation[];
  readonly logarithmic: boolean;
  /** A lane for each unit, one above the other, in place of two axes. */
  readonly lanes: boolean;
  readonly onWindow: (from: number, to: number) => void;
  readonly onHover: (hovered: Hovered | null) => void;
}

export function configuration({
  traces,
  annotations,
  logarithmic,
  lanes,
  from,
  to,
  zone,
  onWindow,
  onHover,
}: Settings): ChartConfiguration<'line', Point[]> {
  const settled = ({ chart }: { chart: Chart }): void => onWindow(chart.scales.x!.min, chart.scales.x!.max);
  const units = [...new Set(traces.map(({ unit }) => unit))];
  const axisOf = ({ unit, right }: Trace): string => (lanes ? `lane ${units.indexOf(unit)}` : right ? 'right' : 'left');
  const axis = (position: 'left' | 'right', unit: string, drawn: boolean) => ({
    type: logarithmic ? ('logarithmic' as const) : ('linear' as const),
    position,
    display: drawn,
    grid: { color: position === 'left' ? ink('--rule') : 'transparent', tickColor: 'transparent' },
    border: { display: false },
    ticks: { color: ink('--ink-2'), maxTicksLimit: lanes ? 4 : 7 },
    title: { display: unit !== '', text: unit, color: ink('--ink-2') },
    ...(logarithmic ? {} : { grace: '6%' }),
  });
  const side = (position: 'left' | 'right') => {
    const own = traces.filter(({ right }) => right === (position === 'right'));
    return axis(position, [...new Set(own.map(({ unit }) => unit))].filter(Boolean).join(', '), own.length > 0);
  };
  // The first unit is the uppermost: axes of a stack are drawn from below.
  const stacked = [...units.entries()].reverse().map(([i, unit]) => {
    const lane = {
      ...axis('left', unit, true),
      stack: 'lanes',
      stackWeight: 1,
      // Its uppermost figure would lie on the lowest of the lane above.
      afterBuildTicks: (scale: { ticks: unknown[] }) => {
        if (i > 0) scale.ticks.pop();
      },
    };
    return [`lane ${i}`, lane] as const;
  });
  const drawnAxes = lanes
    ? stacked.map(([name]) => name).reverse()
    : [traces.some(({ right }) => !right) ? 'left' : 'right'];
  const { times, format } = ticksOf(from, to, zone);
  return {
    type: 'line',
    data: { datasets: datasetsOf(traces, axisOf) },
    options: {
      responsive: true,
      maintainAspectRatio: false,
      interaction: { mode: 'nearest', axis: 'x', intersect: false },
      onHover: (_event, [nearest], chart) => {
        const dataset = nearest ? (chart.data.datasets[nearest.datasetIndex] as Dataset | undefined) : undefined;
        const trace = dataset ? traces[dataset.trace] : undefined;
        const point = nearest ? dataset?.data[nearest.index] : undefined;
        onHover(trace && point ? { tag: trace.tag, unit: trace.unit, time: point.x } : null);
      },
      scales: {
        x: {
          type: 'time',
          min: from,
          max: to,
          adapters: { date: { zone } },
          time: { displayFormats: Object.fromEntries(TIME_UNITS.map((unit) => [unit, format])) },
          afterBuildTicks: (scale) => {
            scale.ticks = times.map((value) => ({ value }));
          },
          grid: { display: false },
          border: { color: ink('--ink-2') },
          ticks: { color: ink('--ink-2'), maxRotation: 0, autoSkip: false },
        },
        ...(lanes ? Object.fromEntries(stacked) : { left: side('left'), right: side('right') }),
      },
      plugins: {
        legend: { display: false },
        tooltip: {
          backgroundColor: ink('--ink'),
          titleColor: ink('--paper'),
          bodyColor: ink('--paper'),
          cornerRadius: 3,
          callbacks: {
            title: ([item]) =>
              item
                ? `${stamp(item.parsed.x!, zone)} (${offsetOf(item.parsed.x!, zone)})\n${stamp(item.parsed.x!, 'UTC')} UTC`
                : '',
            label: (item) =>
              `${item.dataset.label ?? ''}  ${item.formattedValue} ${traces[(item.dataset as Dataset).trace]?.unit ?? ''}`,
          },
        },
        annotation: { annotations: { ...gapBoxes(traces, drawnAxes, from, to), ...noteLines(annotations) } },
        zoom: {
          zoom: {
            wheel: { enabled: true },
            drag: { enabled: true, modifierKey: 'shift', backgroundColor: ink('--wash') },
            mode: 'x',
            onZoomComplete: settled,
          },
          pan: { enabled: true, mode: 'x', onPanComplete: settled },
        },
      },
    },
  };
}

export { Chart };
