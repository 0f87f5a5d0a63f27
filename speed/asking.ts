/** Asking the server that is measured. */
import { setTimeout as wait } from 'node:timers/promises';

/** Sends JSON, answers JSON. @throws Error with what the server said where it refuses. */
export const askerOf =
  (base: string, authorization: string) =>
  async <Body>(method: string, path: string, body?: unknown): Promise<Body> => {
    const answer = await fetch(base + path, {
      method,
      headers: { authorization, 'content-type': 'application/json' },
      ...(body === undefined ? {} : { body: JSON.stringify(body) }),
    });
    if (!answer.ok) throw new Error(await answer.text());
    return (await answer.json()) as Body;
  };

/** Waits until everything is posted. */
export async function posted(send: ReturnType<typeof askerOf>): Promise<void> {
  for (;;) {
    if ((await send<{ unposted: number }>('GET', '/desk')).unposted === 0) return;
    await wait(100);
  }
}
