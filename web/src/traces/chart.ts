/** Chart.js as Wide Ledger uses it: only what is drawn, in our type and colours. */
import { Chart, registerables, type ChartConfiguration, type ChartDataset } from 'chart.js';
import annotation, { type AnnotationOptions } from 'chartjs-plugin-annotation';
import zoom from 'chartjs-plugin-zoom';
import 'chartjs-adapter-luxon';
import type { Annotation, EnvelopeAnswer } from '@wide-ledger/contract';
import { lengthWords, offsetOf, stamp } from '../window/times.ts';
import { pointsOf, type Hovered, type Point } from './points.ts';

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

export function datasetsOf(traces: readonly Trace[]): ChartDataset<'line', Point[]>[] {
  return traces.map((trace, index) => ({
    label: trace.tag,
    data: trace.envelope ? pointsOf(trace.envelope) : [],
    borderColor: ink(penOf(index).colour),
    backgroundColor: ink(penOf(index).colour),
    borderDash: penOf(index).dash,
    borderWidth: 1.4,
    pointRadius: 0,
    pointHitRadius: 6,
    spanGaps: false,
    stepped: trace.stepped ? 'before' : false,
    yAxisID: trace.right ? 'right' : 'left',
    normalized: true,
    parsing: false,
  }));
}

/** A dashed box over every gap, with its length. */
export function gapBoxes(traces: readonly Trace[], from: number, to: number): Record<string, AnnotationOptions> {
  const boxes: Record<string, AnnotationOptions> = {};
  for (const gap of traces.flatMap((trace) => trace.envelope?.gaps ?? [])) {
    const wide = (gap.to - gap.from) / (to - from) > 0.05;
    boxes[`${gap.from}`] = {
      type: 'box',
      xMin: gap.from,
      xMax: gap.to,
      borderColor: ink('--madder'),
      borderWidth: 1,
      borderDash: [3, 3],
      backgroundColor: 'transparent',
      label: {
        display: wide,
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

const SECOND = 1000;
const MINUTE = 60 * SECOND;
const HOUR = 60 * MINUTE;
const DAY = 24 * HOUR;

interface Tick {
  readonly unit: 'second' | 'minute' | 'hour' | 'day' | 'month';
  readonly step: number;
  readonly length: number;
}

/** Steps that people count in; the first that gives at most a dozen ticks is taken. */
const TICKS: readonly Tick[] = [
  ...[1, 5, 10, 30].map((step): Tick => ({ unit: 'second', step, length: step * SECOND })),
  ...[1, 5, 10, 30].map((step): Tick => ({ unit: 'minute', step, length: step * MINUTE })),
  ...[1, 2, 6, 12].map((step): Tick => ({ unit: 'hour', step, length: step * HOUR })),
  ...[1, 2, 7, 14].map((step): Tick => ({ unit: 'day', step, length: step * DAY })),
  { unit: 'month', step: 1, length: 31 * DAY },
  { unit: 'month', step: 3, length: 92 * DAY },
];
const tickOf = (length: number): Tick => TICKS.find((tick) => length / tick.length <= 12.5) ?? TICKS.at(-1)!;

interface Settings {
  readonly traces: readonly Trace[];
  readonly from: number;
  readonly to: number;
  readonly zone: string;
  readonly annotations: readonly Annotation[];
  readonly logarithmic: boolean;
  readonly onWindow: (from: number, to: number) => void;
  readonly onHover: (hovered: Hovered | null) => void;
}

export function configuration({
  traces,
  annotations,
  logarithmic,
  from,
  to,
  zone,
  onWindow,
  onHover,
}: Settings): ChartConfiguration<'line', Point[]> {
  const settled = ({ chart }: { chart: Chart }): void => onWindow(chart.scales.x!.min, chart.scales.x!.max);
  const unitOf = (right: boolean): string =>
    [...new Set(traces.filter((trace) => trace.right === right).map((trace) => trace.unit))].filter(Boolean).join(', ');
  const axis = (position: 'left' | 'right') => ({
    type: logarithmic ? ('logarithmic' as const) : ('linear' as const),
    position,
    display: traces.some((trace) => trace.right === (position === 'right')),
    grid: { color: position === 'left' ? ink('--rule') : 'transparent', tickColor: 'transparent' },
    border: { display: false },
    ticks: { color: ink('--ink-2'), maxTicksLimit: 7 },
    title: { display: unitOf(position === 'right') !== '', text: unitOf(position === 'right'), color: ink('--ink-2') },
    ...(logarithmic ? {} : { grace: '6%' }),
  });
  return {
    type: 'line',
    data: { datasets: datasetsOf(traces) },
    options: {
      responsive: true,
      maintainAspectRatio: false,
      interaction: { mode: 'nearest', axis: 'x', intersect: false },
      onHover: (_event, [nearest], chart) => {
        const trace = nearest && traces[nearest.datasetIndex];
        const point = nearest && (chart.data.datasets[nearest.datasetIndex]!.data[nearest.index] as Point);
        onHover(trace && point ? { tag: trace.tag, unit: trace.unit, time: point.x } : null);
      },
      scales: {
        x: {
          type: 'time',
          min: from,
          max: to,
          adapters: { date: { zone } },
          time: {
            unit: tickOf(to - from).unit,
            displayFormats: {
              millisecond: 'HH:mm:ss.SSS',
              second: 'HH:mm:ss',
              minute: 'HH:mm',
              hour: 'HH:mm',
              day: 'd LLL',
              week: 'd LLL',
              month: 'LLL yyyy',
            },
          },
          grid: { display: false },
          border: { color: ink('--ink-2') },
          ticks: { color: ink('--ink-2'), maxRotation: 0, autoSkip: false, stepSize: tickOf(to - from).step },
        },
        left: axis('left'),
        right: axis('right'),
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
              `${item.dataset.label ?? ''}  ${item.formattedValue} ${traces[item.datasetIndex]?.unit ?? ''}`,
          },
        },
        annotation: { annotations: { ...gapBoxes(traces, from, to), ...noteLines(annotations) } },
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
