/** What a reading thread is asked of holes that values came into from elsewhere, and what it answers, a line of JSON a tag. */
import type { Span } from '@wide-ledger/core';
import type { SourcelessTag } from '../coverage/sourceless.ts';

/** Which stretches of the holes of some tags have values now. */
export interface FilledRequest {
  readonly kind: 'filled';
  readonly tags: readonly HolesOfTag[];
}

export interface HolesOfTag {
  readonly tag: Omit<SourcelessTag, 'name'>;
  readonly holes: readonly Span[];
}

export const isAboutFilled = (request: { readonly kind: string }): request is FilledRequest =>
  request.kind === 'filled';

/** The stretches of a tag's holes in which values follow each other as they usually do. */
export interface FilledLine {
  readonly tag: number;
  readonly filled: readonly Span[];
}
