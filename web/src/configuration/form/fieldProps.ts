import type { FieldSchema } from '@wide-ledger/contract';
import type { Plain } from '@wide-ledger/core';

/** What the input of a field is given, whatever it looks like. */
export interface FieldProps {
  readonly id: string;
  readonly schema: FieldSchema;
  readonly value: Plain | undefined;
  readonly differs: boolean;
  /** What an emptied field is: null for none, undefined where something else then counts. */
  readonly none: null | undefined;
  /** Texts that are offered to be picked; others can be typed. */
  readonly offered?: readonly string[] | undefined;
  /** What a field that is not there yet begins as. */
  readonly begin?: Plain | undefined;
  readonly onSet: (to: Plain | undefined) => void;
}
