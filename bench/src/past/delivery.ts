/** The bench's side of the server's public interface: a key, JSON calls, and entries. */
import { packEntry, type Frame } from '@wide-ledger/core';

/** The server's calls that write the demo's past. @throws Error with the server's sentence where it refuses. */
export class ServerCalls {
  constructor(
    private readonly url: string,
    private readonly key: string,
  ) {}

  async json<Answer>(method: string, path: string, body?: unknown): Promise<Answer> {
    return this.send(method, path, 'application/json', body === undefined ? undefined : JSON.stringify(body));
  }

  async entry(description: object, frame: Frame | null): Promise<void> {
    await this.send('POST', '/entries', 'application/octet-stream', packEntry(description, frame));
  }

  private async send<Answer>(
    method: string,
    path: string,
    type: string,
    body: string | Uint8Array | undefined,
  ): Promise<Answer> {
    const answer = await fetch(`${this.url}/api/v1${path}`, {
      method,
      headers: { authorization: `Bearer ${this.key}`, 'content-type': type },
      ...(body === undefined ? {} : { body: body as NonNullable<RequestInit['body']> }),
    });
    const text = await answer.text();
    if (!answer.ok) throw new Error(`${method} ${path} was answered ${answer.status}: ${text}`);
    return (text ? JSON.parse(text) : null) as Answer;
  }
}
