/** The ways to a source: the one of its configuration, a second one, and what the source itself tells of its like. */
import { KINDS, type ConfiguredSource, type ConfiguredTag } from '@wide-ledger/contract';
import type { Ways } from '../connection/connection.ts';
import type { Kind, Session, Surroundings } from '../kinds/kind.ts';

type Connection = ConfiguredSource['connection'];

/** Seconds. */
const USUAL_CHANGE_OVER = 3;

/** The second connection of a source; undefined where it has none. */
export const secondOf = (source: ConfiguredSource): Connection | undefined =>
  'standbyConnection' in source ? source.standbyConnection : undefined;

const ORDINALS = ['first', 'second', 'third', 'fourth'] as const;

export class SourceWays implements Ways {
  /** As the source told of them, by their addresses: it may be gone itself when they are needed. */
  private readonly siblings = new Map<string, Connection>();
  private session: Session | null = null;

  constructor(
    public source: ConfiguredSource,
    private readonly kind: Kind,
    private readonly around: Surroundings,
  ) {}

  get after(): number {
    return (this.source.changeOverSeconds ?? USUAL_CHANGE_OVER) * 1000;
  }

  get back(): boolean {
    return this.source.staysOver !== true;
  }

  count(): number {
    return this.connections.length;
  }

  open(way: number): Promise<Session> {
    return this.kind.open(this.by(way), this.around);
  }

  /** Listens to what a source tells of its like. */
  learn(session: Session): void {
    this.note();
    this.session = session;
  }

  private note(): void {
    for (const one of this.session?.siblings ?? []) this.siblings.set(this.addressOf(one), one);
  }

  /** Tags as they are read by a way. */
  tagsBy(way: number, tags: readonly ConfiguredTag[]): readonly ConfiguredTag[] {
    if (way === 0) return tags;
    return tags.map((tag) => {
      const { standbyAddress } = tag.reading;
      return standbyAddress ? { ...tag, reading: { ...tag.reading, address: standbyAddress } } : tag;
    });
  }

  whither(way: number): string {
    return this.addressOf(this.connections[way] ?? this.source.connection);
  }

  /** Which way is in use, where there are several. */
  factsBy(way: number): [string, string][] {
    const count = this.count();
    if (count === 1) return [];
    return [['Way', `the ${ORDINALS[way] ?? `${way + 1}th`} of ${count}: ${this.whither(way)}`]];
  }

  private get connections(): Connection[] {
    const second = secondOf(this.source);
    this.note();
    const own = [this.source.connection, ...(second ? [second] : [])];
    const known = new Set(own.map((one) => this.addressOf(one)));
    return [...own, ...[...this.siblings].flatMap(([address, one]) => (known.has(address) ? [] : [one]))];
  }

  private by(way: number): ConfiguredSource {
    // Each is of the source's kind.
    return { ...this.source, connection: this.connections[way] ?? this.source.connection } as ConfiguredSource;
  }

  private addressOf(connection: Connection): string {
    const { whither } = KINDS[this.source.kind] as { whither: (connection: Connection) => string };
    return whither(connection);
  }
}
