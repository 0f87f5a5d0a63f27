/** How a definition stands, by the same word everywhere. */
export type Life =
  | 'in force'
  | 'new in draft'
  | 'changed in draft'
  | 'to be retired'
  | 'not yet taken'
  | 'refused by its source'
  | 'paused'
  | 'retired';

/** What somebody has to know first: what is in the draft, then what the field has not taken, then what rests. */
export function lifeOf({
  drafted,
  retired,
  paused,
  toldVersion,
  runs,
  refused = false,
}: {
  readonly drafted: Life | undefined;
  readonly retired: boolean;
  readonly paused: boolean;
  /** The version that last changed what a collector is told of it; null where no collector reads it. */
  readonly toldVersion: number | null;
  /** The version that its collector runs; null where none has reported. */
  readonly runs: number | null;
  /** Whether its source does not give it, while it gives others. */
  readonly refused?: boolean;
}): Life {
  if (drafted && drafted !== 'in force') return drafted;
  if (retired) return 'retired';
  if (paused) return 'paused';
  if (toldVersion !== null && (runs === null || runs < toldVersion)) return 'not yet taken';
  return refused ? 'refused by its source' : 'in force';
}

const LOOK: Readonly<Record<Life, string>> = {
  'in force': 'text-ink-2',
  'new in draft': 'text-ochre',
  'changed in draft': 'text-ochre',
  'to be retired': 'text-ochre',
  'not yet taken': 'text-slate',
  'refused by its source': 'text-madder',
  paused: 'text-ink-2 italic',
  retired: 'text-ink-2 line-through',
};

/** The word; nothing for what is in force, which is the usual. */
export function LifeWord({ life }: { readonly life: Life }) {
  return life === 'in force' ? null : <span className={`whitespace-nowrap ${LOOK[life]}`}>{life}</span>;
}
