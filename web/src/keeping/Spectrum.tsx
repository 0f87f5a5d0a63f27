/** What of a tag moves how fast, beside how often it is read: periods from long to short, each by its share of what moves. */
import { ENOUGH, describeLength, type Movement, type SpectrumBand } from '@wide-ledger/core';
import { useRef } from 'react';
import { useWidth } from '../controls/useWidth.ts';

interface Props {
  readonly spectrum: readonly SpectrumBand[];
  /** The fastest that matters. */
  readonly movement: Movement | null;
  /** At which it is read, tried or in force; seconds, null where nobody reads it. */
  readonly interval: number | null;
}

const HEIGHT = 84;
/** Below the lines, for the words of periods. */
const FOOT = 18;
const HEAD = 16;
/** Periods that are marked, in seconds. */
const TICKS = [0.1, 0.2, 0.5, 1, 2, 5, 10, 30, 60, 120, 300, 600, 1800, 3600, 10_800, 43_200, 86_400, 604_800];
/** Between two words. */
const LEAST_PIXELS = 64;

const words = (seconds: number): string => describeLength(Math.round(seconds * 1e6));

export function Spectrum({ spectrum, movement, interval }: Props) {
  const box = useRef<HTMLDivElement>(null);
  const width = useWidth(box, 900);
  const [longest, shortest] = [spectrum[0]?.period ?? 1, spectrum.at(-1)?.period ?? 1];
  const most = Math.max(...spectrum.map(({ share }) => share));
  const x = (period: number): number => (width * Math.log(longest / period)) / Math.log(longest / shortest);
  const y = (share: number): number => HEIGHT - FOOT - ((HEIGHT - FOOT - HEAD) * share) / most;
  const isDrawn = (period: number): boolean => period <= longest && period >= shortest;
  const ticks: number[] = [];
  for (const tick of TICKS.filter(isDrawn).reverse())
    if (ticks.length === 0 || x(tick) - x(ticks.at(-1)!) >= LEAST_PIXELS) ticks.push(tick);
  const limits =
    interval === null
      ? []
      : ([
          [ENOUGH * interval, `${ENOUGH} samples a period`],
          [2 * interval, '2: what is faster folds'],
        ] as const);
  const said = movement
    ? `The fastest movement that matters takes ${words(movement.period)}.`
    : 'No movement stands out of the noise.';
  return (
    <div ref={box} className="shrink-0 pb-2" data-testid="spectrum">
      <p className="text-ink-2">
        How fast it moves: the share of what moves, by its period. {spectrum.length > 0 && said}
      </p>
      {spectrum.length === 0 ? (
        <p className="text-ink-2">There are too few values in a row, or nothing moves.</p>
      ) : (
        <svg
          role="img"
          aria-label={`Spectrum, periods from ${words(longest)} to ${words(shortest)}. ${said}`}
          width={width}
          height={HEIGHT}
          className="block"
        >
          {ticks.map((tick) => (
            <g key={tick}>
              <line x1={x(tick)} x2={x(tick)} y1={HEAD} y2={HEIGHT - FOOT} className="stroke-rule" />
              <text
                x={x(tick)}
                y={HEIGHT - 4}
                textAnchor={x(tick) < 30 ? 'start' : x(tick) > width - 30 ? 'end' : 'middle'}
                className="figure fill-ink-2 text-[11px]"
              >
                {words(tick)}
              </text>
            </g>
          ))}
          <line x1={0} x2={width} y1={HEIGHT - FOOT} y2={HEIGHT - FOOT} className="stroke-rule" />
          {limits
            .filter(([period]) => isDrawn(period))
            .map(([period, label]) => (
              <g key={label}>
                <line
                  x1={x(period)}
                  x2={x(period)}
                  y1={2}
                  y2={HEIGHT - FOOT}
                  strokeDasharray="3 3"
                  className="stroke-madder"
                />
                <text x={x(period) - 4} y={12} textAnchor="end" className="fill-madder text-[11px]">
                  {label}
                </text>
              </g>
            ))}
          <polyline
            points={spectrum.map(({ period, share }) => `${x(period).toFixed(1)},${y(share).toFixed(1)}`).join(' ')}
            fill="none"
            strokeWidth={1.4}
            className="stroke-verdigris"
          />
          {movement && isDrawn(movement.period) && (
            <circle cx={x(movement.period)} cy={y(nearest(spectrum, movement.period))} r={4} className="fill-plum" />
          )}
        </svg>
      )}
    </div>
  );
}

/** The share of the band that lies nearest to a period. */
const nearest = (spectrum: readonly SpectrumBand[], period: number): number =>
  spectrum.reduce((best, one) =>
    Math.abs(Math.log(one.period / period)) < Math.abs(Math.log(best.period / period)) ? one : best,
  ).share;
