/** Values by reading, for servers without subscriptions: from the server's cache, or from the device (OPC 10000-4, 5.10.2). */
import { awayByNetwork } from '../away.ts';
import type { PolledSession, Sample, SourceAway, TagOf } from '../kind.ts';
import { Standing } from './standing.ts';
import { sampleOf } from './values.ts';

/** Most values that are asked for by one request. */
const AT_ONCE = 1000;

export class OpcUaReading extends Standing implements PolledSession<'opc-ua'> {
  readonly acquires = 'poll';
  private gone: SourceAway | null = null;

  async read(tags: readonly TagOf<'opc-ua'>[]): Promise<Sample[]> {
    const samples: Sample[] = [];
    for (let at = 0; at < tags.length; at += AT_ONCE)
      samples.push(...(await this.readSome(tags.slice(at, at + AT_ONCE))));
    return samples;
  }

  private async readSome(tags: readonly TagOf<'opc-ua'>[]): Promise<Sample[]> {
    const { session, library, connection, place } = this.approach;
    if (this.gone ?? !session) throw this.gone ?? awayByNetwork(place.host, place.port, 'CLOSED');
    const interval = Math.min(...tags.map(({ reading }) => reading.intervalMilliseconds));
    // A greatest age of zero asks the server to ask the device.
    const maxAge = connection.acquire === 'read from device' ? 0 : interval;
    const values = await this.approach.attempt(
      session.read(
        tags.map(({ reading }) => ({ nodeId: reading.address.node, attributeId: library.AttributeIds.Value })),
        maxAge,
      ),
    );
    return values.map((value, i) => sampleOf(tags[i]!, value, library));
  }

  /** The next read says so. */
  protected lost(error: SourceAway): void {
    this.gone = error;
  }
}
