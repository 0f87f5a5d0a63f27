/**
 * An MQTT broker as the far end of a link: a message for each value, acknowledged by the broker (QoS 1). A broker keeps no
 * position, so the near end does: what was on its way when a server was killed comes twice, and who listens tells it by its
 * tag and time.
 */
import type { BrokerEnd as Given, CarriedTag, CarriedTagsAnswer, LinkRung } from '@wide-ledger/contract';
import { Status, payloadOf, topicOf, type ToldValue } from '@wide-ledger/core';
import { BrokerLine } from './brokerLine.ts';
import type { CarriedPart, FarEnd, FarPosition, Stretch, Taken } from './farEnd.ts';
import { qualityOf, rowAt, timeOf, type Row } from './toldRows.ts';

/** Messages that are on their way at a time. */
const ON_THEIR_WAY = 500;

/** Where the near end stands, kept by itself. */
export interface KeptPosition {
  readonly epoch: number;
  readonly position: number;
  readonly lastNumber: number;
}

/** A value as it is told. */
export const toldOf = (row: Row): ToldValue => ({
  name: row.tag.name,
  place: row.tag.place,
  unit: row.tag.unit,
  time: timeOf(row),
  value: row.text ?? row.value,
  status: row.status,
  quality: qualityOf(row),
});

export class BrokerEnd implements FarEnd {
  private readonly line: BrokerLine;

  /** @param kept where the near end says it stands. @param told the link's tags by its numbers. */
  constructor(
    private readonly given: Given,
    password: string,
    private readonly kept: () => Promise<KeptPosition>,
    private readonly told: () => Promise<ReadonlyMap<number, CarriedTag>>,
  ) {
    this.line = new BrokerLine(given, password);
  }

  async position(): Promise<FarPosition> {
    await this.line.connected();
    return { ...(await this.kept()), print: '', site: null, name: this.line.name };
  }

  tags(tags: readonly CarriedTag[]): Promise<CarriedTagsAnswer> {
    return Promise.resolve({ results: tags.map(({ number }) => ({ number, refused: null })) });
  }

  async entries({ entries, samples }: Stretch): Promise<Taken> {
    const client = await this.line.connected();
    const tags = await this.told();
    const { topic: pattern, payload: template, retain } = this.given;
    let bytes = 0;
    for (const batch of batchesOf(entries, tags)) {
      const messages = batch.map((row): [topic: string, payload: string] => [
        topicOf(pattern, row.tag),
        payloadOf(template, toldOf(row)),
      ]);
      bytes += messages.reduce((sum, [topic, payload]) => sum + topic.length + Buffer.byteLength(payload), 0);
      await this.line.during(client, () =>
        Promise.all(messages.map(([topic, payload]) => client.publishAsync(topic, payload, { qos: 1, retain }))),
      );
    }
    return { accepted: samples, setAside: 0, bytes };
  }

  check(): AsyncGenerator<LinkRung> {
    return this.line.check();
  }

  close(): Promise<void> {
    return this.line.close();
  }
}

/** The values of entries in their order, so many at a time; what was removed has no message. */
export function* batchesOf(entries: readonly CarriedPart[], tags: ReadonlyMap<number, CarriedTag>): Generator<Row[]> {
  let batch: Row[] = [];
  for (const { frame } of entries) {
    for (let i = 0; i < frame.times.length; i++) {
      const tag = tags.get(frame.tags![i]!);
      if (!tag || frame.status[i] === Status.BadNoEntryExists) continue;
      batch.push(rowAt(tag, frame, i));
      if (batch.length < ON_THEIR_WAY) continue;
      yield batch;
      batch = [];
    }
  }
  if (batch.length > 0) yield batch;
}
