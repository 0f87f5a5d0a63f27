/** How a definition stands, by the same word everywhere. */
export type Life =
  'in force' | 'new in draft' | 'changed in draft' | 'to be retired' | 'not yet taken' | 'paused' | 'retired';

/** What somebody has to know first: what is in the draft, then what the field has not taken, then what rests. */
export function lifeOf({
  drafted,
  retired,
  paused,
  toldVersion,
  runs,
}: {
  readonly drafted: Life | undefined;
  readonly retired: boolean;
  readonly paused: boolean;
  /** The version that last changed what a collector is told of it; null where no collector reads it. */
  readonly toldVersion: number | null;
  /** The version that its collector runs; null where none has reported. */
  readonly runs: number | null;
}): Life {
  if (drafted && drafted !== 'in force') return drafted;
  if (retired) return 'retired';
  if (paused) return 'paused';
  if (toldVersion !== null && (runs === null || runs < toldVersion)) return 'not yet taken';
  return 'in force';
}

const LOOK: Readonly<Record<Life, string>> = {
  'in force': 'text-ink-2',
  'new in draft': 'text-ochre',
  'changed in draft': 'text-ochre',
  'to be retired': 'text-ochre',
  'not yet taken': 'text-slate',
  paused: 'text-ink-2 italic',
  retired: 'text-ink-2 line-through',
};

/** The word; nothing for what is in force, which is the usual. */
export function LifeWord({ life }: { readonly life: Life }) {
  return life === 'in force' ? null : <span className={`whitespace-nowrap ${LOOK[life]}`}>{life}</span>;
}
