/** A record read on from part to part, as a collector does. */
import type { Cursor, RecordSession, Sample, SourceOf, TagOf } from '../src/index.ts';

type RecordKind = 'files' | 'sql' | 'ledger';

export class RecordReader<Of extends RecordKind> {
  cursor: Cursor | null = null;
  readonly troubles: string[] = [];

  constructor(
    readonly session: RecordSession<Of>,
    private readonly tags: readonly TagOf<Of>[],
  ) {}

  /** All that is there by now. */
  async rest(): Promise<Sample[]> {
    const samples: Sample[] = [];
    for (let more = true; more;) {
      // As it comes back from the notes.
      const from = JSON.parse(JSON.stringify(this.cursor ?? (await this.session.begin()))) as Cursor;
      const part = await this.session.readOn(this.tags, from);
      this.cursor = part.cursor;
      samples.push(...part.samples);
      this.troubles.push(...part.troubles.map(({ sentence }) => sentence));
      more = part.more;
    }
    return samples;
  }

  async values(of = 1): Promise<unknown[]> {
    return (await this.rest()).filter((one) => one.tag === of).map(({ value }) => value);
  }
}

export type ConnectionOf<Of extends RecordKind> = SourceOf<Of>['connection'];
