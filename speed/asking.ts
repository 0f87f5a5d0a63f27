/** Asking the server that is measured. */

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
