/** A tag's latest value, and how good it is, as lists show them. */
import type { SampleOutput, Tag } from '@wide-ledger/contract';
import { GRADE_COLOUR, gradeOf, showValue } from '../controls/values.ts';

interface Props {
  readonly sample: Pick<SampleOutput, 'value' | 'status' | 'quality'> | null;
}

/** The value with its unit. */
export function ValueNow({ tag, sample }: Props & { readonly tag: Tag }) {
  const isBad = !sample || gradeOf(sample.status) === 'Bad';
  return (
    <span className="w-32 truncate text-right">
      <span className={`figure ${isBad ? 'text-ink-2' : ''}`} data-now>
        {sample ? showValue(sample.value) : '—'}
      </span>{' '}
      <span className="figure text-[11px] text-ink-2">{tag.unit}</span>
    </span>
  );
}

/** Good, Uncertain or Bad, by its letter. */
export function QualityNow({ sample }: Props) {
  const grade = sample ? gradeOf(sample.status) : 'Bad';
  return (
    <span className={`figure w-4 text-center ${GRADE_COLOUR[grade]}`} title={sample?.quality ?? 'nothing archived yet'}>
      {sample ? grade[0] : '·'}
    </span>
  );
}
