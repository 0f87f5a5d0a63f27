/** Calls to the server. Every failure is a sentence for a person. */
import type { Problem } from '@wide-ledger/contract';

export class CallFailed extends Error {
  constructor(
    readonly status: number,
    sentence: string,
    readonly code: string | null,
  ) {
    super(sentence);
  }
}

type Parameters = Record<string, string | number | boolean | undefined>;

export function address(path: string, parameters: Parameters = {}): string {
  const given = Object.entries(parameters).filter(
    (entry): entry is [string, string | number | boolean] => entry[1] !== undefined,
  );
  const query = new URLSearchParams(given.map(([name, value]) => [name, String(value)])).toString();
  return `/api/v1${path}${query ? `?${query}` : ''}`;
}

async function send(method: string, url: string, init: RequestInit): Promise<Response> {
  let answer: Response;
  try {
    answer = await fetch(url, { method, credentials: 'same-origin', ...init });
  } catch (error) {
    if ((error as Error).name === 'AbortError') throw error;
    throw new CallFailed(
      0,
      'The server does not answer. What you see may be old; it comes back by itself.',
      'UNREACHABLE',
    );
  }
  if (answer.ok) return answer;
  const problem = (await answer.json().catch(() => null)) as Problem | null;
  throw new CallFailed(
    answer.status,
    problem?.detail ?? `The server answered ${answer.status}.`,
    problem?.code ?? null,
  );
}

export async function get<Answer>(path: string, parameters?: Parameters, signal?: AbortSignal): Promise<Answer> {
  const answer = await send('GET', address(path, parameters), signal ? { signal } : {});
  return (await answer.json()) as Answer;
}

async function sendBody<Answer>(method: string, path: string, body: unknown): Promise<Answer> {
  const init =
    body === undefined ? {} : { headers: { 'content-type': 'application/json' }, body: JSON.stringify(body) };
  const answer = await send(method, address(path), init);
  return (answer.status === 204 ? null : await answer.json()) as Answer;
}

export const post = <Answer>(path: string, body?: unknown): Promise<Answer> => sendBody('POST', path, body);
/** Sends a body and hands on the answer line by line as it comes, each a value in JSON. */
export async function postLines<Line>(path: string, body: unknown, onLine: (line: Line) => void): Promise<void> {
  const answer = await send('POST', address(path), {
    headers: { 'content-type': 'application/json', accept: 'application/x-ndjson' },
    body: JSON.stringify(body),
  });
  const reader = answer.body!.pipeThrough(new TextDecoderStream()).getReader();
  let rest = '';
  for (;;) {
    const { done, value } = await reader.read().catch(() => {
      throw new CallFailed(0, 'The answer broke off: the server or the way to it failed. Try again.', 'BROKEN_OFF');
    });
    const lines = (rest + (value ?? '')).split('\n');
    rest = lines.pop()!;
    for (const line of lines) onLine(JSON.parse(line) as Line);
    if (done) return;
  }
}

export const remove = (path: string): Promise<null> => sendBody('DELETE', path, undefined);
export const put = <Answer>(path: string, body: unknown): Promise<Answer> => sendBody('PUT', path, body);
export const patch = <Answer>(path: string, body: unknown): Promise<Answer> => sendBody('PATCH', path, body);

/** Sends a file as it is. */
export async function postFile<Answer>(path: string, parameters: Parameters, file: Blob): Promise<Answer> {
  const init = { headers: { 'content-type': 'application/octet-stream' }, body: file };
  return (await (await send('POST', address(path, parameters), init)).json()) as Answer;
}
