import type { Advice, Fate, RehearsedOutcome } from '@wide-ledger/core';
import { REASON_WORDS, adviceWords, outcomeWords, seconds } from './words.ts';

interface Props {
  readonly name: string;
  readonly outcome: RehearsedOutcome;
  readonly advice: readonly Advice[];
  /** The end of what is drawn, in seconds. */
  readonly until: number;
}

/** As the strips draw it: filled where it was recorded, dots where it came back, open where it is lost. */
const LOOKS: Readonly<Record<Fate['fate'], string>> = {
  recovered: 'strip-dotted',
  lost: 'border-[1.5px] border-madder bg-raised',
  'nothing to lose': 'border border-dashed border-edge bg-raised',
};

/** What becomes of one source: its strip over the script, what is lost and why, and what would have saved it. */
export function Outcome({ name, outcome, advice, until }: Props) {
  const lost = outcome.fates.filter(({ fate }) => fate === 'lost');
  const share = (at: number): string => `${(100 * at) / until}%`;
  const words = outcomeWords(outcome);
  return (
    <section aria-label={name} className="border-t border-rule py-2.5">
      <div className="flex items-center gap-3">
        <h3 className="w-52 truncate font-semibold" title={name}>
          {name}
        </h3>
        <div role="img" aria-label={`${name}: ${words}`} className="relative h-3.5 min-w-0 flex-1 bg-edge">
          {outcome.fates.map(({ from, to, fate, why }) => (
            <div
              key={`${from} ${why}`}
              className={`absolute inset-y-0 min-w-1 ${LOOKS[fate]}`}
              style={{ left: share(from), width: share(to - from) }}
              title={`${seconds(to - from)}: ${REASON_WORDS[why]}`}
            />
          ))}
        </div>
      </div>
      <p className={`mt-1 ${lost.length > 0 ? 'text-madder' : 'text-ink-2'}`}>{words}</p>
      {lost.map(({ from, to, why }) => (
        <p key={`${from} ${why}`} className="text-ink-2">
          <span className="figure">{seconds(to - from)}</span>, from <span className="figure">{seconds(from)}</span>{' '}
          after the start on: {REASON_WORDS[why]}.
        </p>
      ))}
      {advice.length > 0 && (
        <ul aria-label={`What would save it, ${name}`} className="mt-1 border-l-2 border-verdigris pl-3">
          {advice.map((one) => (
            <li key={one.change}>{adviceWords(one)}</li>
          ))}
        </ul>
      )}
    </section>
  );
}
