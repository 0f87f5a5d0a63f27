/** The HTTP server below Express, and what it says of requests that never get as far as a call. */
import type { RequestListener, Server } from 'node:http';
import { createServer } from 'node:http';
import type { Duplex } from 'node:stream';

/** Longest line of an address and headers together. Bytes. */
const LARGEST_HEADERS = 16 * 1024;
/** A connection between two requests: clients let go first, so that none sends into one that is just being closed. */
const IDLE_MILLISECONDS = 75_000;
/** A request whose headers take longer than this is given up; one whose body does, too. Milliseconds. */
const HEADERS_MILLISECONDS = 10_000;
const REQUEST_MILLISECONDS = 300_000;

const problem = (status: number, title: string, detail: string): string => {
  const body = JSON.stringify({ type: 'about:blank', title, status, detail });
  return [
    `HTTP/1.1 ${status} ${title}`,
    'Content-Type: application/problem+json; charset=utf-8',
    `Content-Length: ${Buffer.byteLength(body)}`,
    'Connection: close',
    '',
    body,
  ].join('\r\n');
};

function wordsFor(code: string): string {
  switch (code) {
    case 'HPE_HEADER_OVERFLOW':
      return problem(
        431,
        'The headers are too large',
        `Address and headers together are larger than ${LARGEST_HEADERS / 1024} KB. Ask for fewer tags at once, or send them in the body where the call takes one.`,
      );
    case 'ERR_HTTP_REQUEST_TIMEOUT':
      return problem(408, 'The request took too long', 'The request did not arrive within its time. Send it again.');
    default:
      return problem(400, 'Not HTTP', `This is no request of HTTP/1.1 (${code}).`);
  }
}

/** A server that answers with sentences also where Node.js itself refuses. */
export function httpServer(listener: RequestListener): Server {
  const server = createServer(
    {
      maxHeaderSize: LARGEST_HEADERS,
      headersTimeout: HEADERS_MILLISECONDS,
      requestTimeout: REQUEST_MILLISECONDS,
      keepAliveTimeout: IDLE_MILLISECONDS,
    },
    listener,
  );
  server.on('clientError', (error: NodeJS.ErrnoException, socket: Duplex) => {
    if (socket.writable && error.code !== 'ECONNRESET') socket.end(wordsFor(error.code ?? 'unknown'));
    else socket.destroy();
  });
  server.on('checkExpectation', ({ headers }, response) => {
    const detail = `The header Expect asks for "${headers.expect}", which is not offered here. Leave it out.`;
    const body = JSON.stringify({ type: 'about:blank', title: 'Nothing is expected', status: 417, detail });
    response.writeHead(417, { 'content-type': 'application/problem+json; charset=utf-8' }).end(body);
  });
  return server;
}
