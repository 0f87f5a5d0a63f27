/** The collector's one outbound connection: every call goes to the server, with a scoped key. */
import {
  collectorConfiguration,
  collectorOrders,
  configurationChanges,
  entryAnswer,
  entryPosition,
  questionsAnswer,
  type AskedQuestion,
  type CollectorSays,
  type CollectorConfiguration,
  type CollectorOrders,
  type CollectorReport,
  type ConfigurationChanges,
  type EntryAnswer,
} from '@wide-ledger/contract';

/** The server understood and refused: trying the same again will not help. */
export class ServerRefused extends Error {}

/** Answers by which a server refuses what it was given, whenever it is given it: unreadable, too large, not allowed so. */
const FOR_GOOD = [400, 413, 415, 422];

const TIMEOUT_MILLISECONDS = 10_000;
/** A call for questions is answered once there is one, or after this. */
const WAIT_MILLISECONDS = 20_000;
/** It is answered by the server before this. */
const QUESTIONS_MILLISECONDS = 40_000;

/** The calls a collector makes. @throws ServerRefused where trying again will not help; any other error may pass. */
export class ServerCalls {
  constructor(
    private readonly url: string,
    private readonly key: string,
    /** The collector's name. */
    private readonly name: string,
  ) {}

  private get named(): string {
    return `collector=${encodeURIComponent(this.name)}`;
  }

  /** What to collect, and how, as it is in force; only what changed where the server knows the version that one has. */
  async configuration(
    has: Pick<CollectorConfiguration, 'version' | 'stamp'> | null,
  ): Promise<CollectorConfiguration | ConfigurationChanges> {
    const known = has ? `&since=${has.version}&stamp=${encodeURIComponent(has.stamp)}` : '';
    const said = await this.send('GET', `/collector/configuration?${this.named}${known}`);
    const changes = configurationChanges.safeParse(said);
    return changes.success ? changes.data : collectorConfiguration.parse(said);
  }

  /** Says how the sources are; the answer holds path checks to be made. */
  async report(report: CollectorReport): Promise<CollectorOrders> {
    return collectorOrders.parse(await this.send('POST', '/collector/report', JSON.stringify(report)));
  }

  /** Delivers a packed entry, or a bundle of them; the server takes each sequence number once. */
  async deliver(packed: Uint8Array): Promise<EntryAnswer> {
    return entryAnswer.parse(await this.send('POST', '/entries', packed));
  }

  /** The last number that the server has of a writer; 0 where it has none. */
  async position(writer: string): Promise<number> {
    const said = await this.send('GET', `/entries/position?writer=${encodeURIComponent(writer)}`);
    return entryPosition.parse(said).sequence;
  }

  /** What somebody waits to hear; the call waits until there is something, for a while. */
  async questions(signal: AbortSignal): Promise<AskedQuestion[]> {
    const waiting = AbortSignal.any([signal, AbortSignal.timeout(QUESTIONS_MILLISECONDS)]);
    return questionsAnswer.parse(
      await this.send('GET', `/collector/questions?${this.named}&wait=${WAIT_MILLISECONDS}`, undefined, waiting),
    ).questions;
  }

  /** Says something to a question. */
  async say(said: CollectorSays): Promise<void> {
    await this.send('POST', '/collector/answers', JSON.stringify(said));
  }

  private async send(
    method: string,
    path: string,
    body?: string | Uint8Array,
    signal: AbortSignal = AbortSignal.timeout(TIMEOUT_MILLISECONDS),
  ): Promise<unknown> {
    const answer = await fetch(`${this.url}/api/v1${path}`, {
      method,
      headers: {
        authorization: `Bearer ${this.key}`,
        'content-type': typeof body === 'string' ? 'application/json' : 'application/octet-stream',
      },
      ...(body === undefined ? {} : { body: body as NonNullable<RequestInit['body']> }),
      signal,
    });
    if (answer.ok) return answer.json();
    const { detail } = (await answer.json().catch(() => ({}))) as { detail?: string };
    const sentence = `${method} ${path} was answered ${answer.status}: ${detail ?? 'no detail'}`;
    throw FOR_GOOD.includes(answer.status) ? new ServerRefused(sentence) : new Error(sentence);
  }
}
