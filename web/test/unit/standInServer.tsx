/** The server's place in tests of the interface: answers by path, and what was asked of it. */
import { QueryClient, QueryClientProvider } from '@tanstack/react-query';
import type { ReactNode } from 'react';
import { MemoryRouter, useLocation } from 'react-router';

export interface Asked {
  readonly method: string;
  /** Without `/api/v1`. */
  readonly path: string;
  readonly parameters: Readonly<Record<string, string>>;
  readonly body: unknown;
}

type Reply = (asked: Asked) => unknown;

/** A refusal as the server words it. */
export class Refusal {
  constructor(
    readonly status: number,
    readonly detail: string,
    readonly code: string | null = null,
  ) {}
}

export class StandInServer {
  readonly asked: Asked[] = [];
  private readonly replies = new Map<string, Reply>();

  constructor() {
    globalThis.fetch = (async (url: string, init: RequestInit = {}) => {
      const { pathname, searchParams } = new URL(url, 'http://stand.in');
      const asked: Asked = {
        method: init.method ?? 'GET',
        path: pathname.replace(/^\/api\/v1/, ''),
        parameters: Object.fromEntries(searchParams),
        body: typeof init.body === 'string' ? (JSON.parse(init.body) as unknown) : undefined,
      };
      this.asked.push(asked);
      const reply = this.replies.get(`${asked.method} ${asked.path}`);
      const answer = reply ? await reply(asked) : new Refusal(404, `Nothing is at ${asked.path}.`);
      if (answer instanceof Refusal) return this.response(answer.status, { detail: answer.detail, code: answer.code });
      return this.response(answer === null ? 204 : 200, answer);
    }) as typeof fetch;
  }

  /** @param call such as `GET /tags`. */
  on(call: string, reply: Reply): void {
    this.replies.set(call, reply);
  }

  /** What was asked by one call, in its order. */
  askedBy(call: string): Asked[] {
    return this.asked.filter(({ method, path }) => `${method} ${path}` === call);
  }

  private response(status: number, body: unknown): unknown {
    return { ok: status < 400, status, json: () => Promise.resolve(body) };
  }
}

/** The address that the interface is at, as a reader of the tests sees it. */
export const addressNow = { search: '' };

function Address(): null {
  addressNow.search = useLocation().search;
  return null;
}

/** What every screen stands in: an address, and questions that are asked once. */
export function roomAt(address: string): (props: { readonly children: ReactNode }) => ReactNode {
  const client = new QueryClient({ defaultOptions: { queries: { retry: false } } });
  return function Room({ children }) {
    return (
      <QueryClientProvider client={client}>
        <MemoryRouter initialEntries={[address]}>
          <Address />
          {children}
        </MemoryRouter>
      </QueryClientProvider>
    );
  };
}
