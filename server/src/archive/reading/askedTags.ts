import { findTag, type Catalogue } from '../../configuration/index.ts';
import type { Coverage } from '../coverage/coverage.ts';
import type { ReadTag } from './readTag.ts';
import { readTagOf, type Override } from './rules.ts';

/** Tags as the reading threads have to know them: looked up once, before anything is read. */
export class AskedTags {
  constructor(
    private readonly catalogue: Catalogue,
    private readonly coverage: Coverage,
  ) {}

  /** A tag by its name. Its data end with its last sample, or with the watch beyond it. @throws a problem: no such tag. */
  async one(name: string, override: Override = {}): Promise<ReadTag> {
    const tag = await findTag(this.catalogue, name);
    return readTagOf(tag, await this.coverage.watchedUntil(tag), override);
  }

  many(names: readonly string[], override: Override = {}): Promise<ReadTag[]> {
    return Promise.all(names.map((name) => this.one(name, override)));
  }
}
