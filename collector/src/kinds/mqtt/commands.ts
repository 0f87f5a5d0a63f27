/**
 * Writing by messages: a command goes to a topic of its own, and what came of it is what is told next where the value is
 * told. A broker does not know what a device holds: what was told last stands for it.
 */
import type { MqttConnection } from '@wide-ledger/contract';
import type { MqttClient } from 'mqtt';
import { rawOf, refusingMisfits } from '../../tagLife/rawValue.ts';
import { away, placeOf } from '../brokers/broker.ts';
import { WriteRefused, type Sample, type TagOf, type Value } from '../kind.ts';

type Tag = TagOf<'mqtt'>;

/** In what is sent it stands for the value. */
const PLACE = '{value}';

export class Commands {
  private newest = new Map<number, Sample>();
  private readonly awaited = new Map<number, (sample: Sample) => void>();

  constructor(
    private readonly connection: MqttConnection,
    private readonly client: () => MqttClient | null,
  ) {}

  /** What is told of a tag that takes commands. */
  heard(sample: Sample): void {
    this.newest.set(sample.tag, sample);
    this.awaited.get(sample.tag)?.(sample);
  }

  /** What was told last. @throws WriteRefused where nothing was */
  readNow(tag: Tag): Sample {
    refuseWithoutCommand(tag);
    const newest = this.newest.get(tag.id);
    if (newest) return newest;
    throw new WriteRefused(
      `Nothing was told of it since the connection stands, on ${tag.reading.address.topic}: what it holds is not known.`,
      'NOT_TOLD',
    );
  }

  /** @returns once the value is told as it was sent. @throws SourceAway, WriteRefused; Error where nothing is told by then */
  async write(tag: Tag, value: number | bigint | string): Promise<void> {
    refuseWithoutCommand(tag);
    const { client } = this;
    const { command = '', commandMessage = PLACE } = tag.reading.address;
    const raw = refusingMisfits(() => rawOf(tag, value));
    const connected = client();
    if (!connected) throw away({ code: 'CLOSED' }, placeOf(this.connection));
    const sent = connected.publishAsync(command, commandText(commandMessage, raw), { qos: 1 });
    const told = this.tellsOf(tag.id, value, sent);
    try {
      await Promise.all([sent, told.came]);
    } catch (error) {
      throw error instanceof NothingTold ? error : away(error, placeOf(this.connection));
    } finally {
      told.end();
    }
  }

  /** Waits for what is told of a tag: the value that was sent, or whatever else stands when the time is over. */
  private tellsOf(
    tag: number,
    wanted: Value,
    sent: Promise<unknown>,
  ): { readonly came: Promise<void>; readonly end: () => void } {
    const { timeoutMilliseconds } = this.connection;
    let timer: NodeJS.Timeout | undefined;
    let taken = false;
    let other = false;
    sent.then(
      () => (taken = true),
      () => undefined,
    );
    const came = new Promise<void>((done, fail) => {
      timer = setTimeout(
        () => (taken && other ? done() : fail(new NothingTold(taken, timeoutMilliseconds))),
        timeoutMilliseconds,
      );
      this.awaited.set(tag, ({ value }) => {
        other = true;
        if (isNearly(value, wanted)) done();
      });
    });
    const end = (): void => {
      clearTimeout(timer);
      this.awaited.delete(tag);
    };
    return { came, end };
  }
}

class NothingTold extends Error {
  constructor(taken: boolean, milliseconds: number) {
    const what = taken ? 'The broker took the command, and the device told nothing' : 'The broker took no command';
    super(`${what} within ${milliseconds / 1000} s.`);
  }
}

function refuseWithoutCommand({ reading: { address } }: Tag): void {
  if ((address.command ?? '') !== '') return;
  throw new WriteRefused('Its address names no topic that takes new values.', 'NOT_WRITABLE');
}

/** A device may round what it is given. */
function isNearly(value: Value, wanted: Value): boolean {
  if (typeof value !== 'number' || typeof wanted !== 'number') return value === wanted;
  return Math.abs(value - wanted) <= 1e-3 * Math.max(1, Math.abs(wanted));
}

/** What is sent: a text within JSON is quoted as JSON has it. */
export function commandText(message: string, raw: number | bigint | string): string {
  const isJson = /^\s*[[{]/.test(message);
  return message.replaceAll(PLACE, () => (typeof raw === 'string' && isJson ? JSON.stringify(raw) : String(raw)));
}
