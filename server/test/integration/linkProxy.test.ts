/** A link through a proxy: this site reaches nobody but the proxy, and the far end nobody but what comes out of it. */
import type { LinkCheck, LinksAnswer, RawAnswer } from '@wide-ledger/contract';
import { once } from 'node:events';
import { createServer, type Server } from 'node:http';
import { connect, type AddressInfo } from 'node:net';
import type { Duplex } from 'node:stream';
import { TestSite } from './testSite.ts';
import { until } from './until.ts';

/** A proxy that tunnels (RFC 9110, 9.3.6): where to, each time. */
class Proxy {
  readonly tunnels: string[] = [];
  private readonly sockets = new Set<Duplex>();
  private readonly server: Server = createServer((_request, response) => response.writeHead(405).end());

  async start(): Promise<string> {
    this.server.on('connect', (request, socket, head) => {
      this.tunnels.push(request.url!);
      const [host, port] = request.url!.split(':') as [string, string];
      const far = connect(Number(port), host, () => {
        socket.write('HTTP/1.1 200 Connection established\r\n\r\n');
        far.write(head);
        far.pipe(socket).pipe(far);
      });
      for (const end of [far, socket]) this.sockets.add(end);
      for (const end of [far, socket]) end.on('error', () => (far.destroy(), socket.destroy()));
    });
    this.server.listen(0, '127.0.0.1');
    await once(this.server, 'listening');
    return `http://127.0.0.1:${(this.server.address() as AddressInfo).port}`;
  }

  async stop(): Promise<void> {
    // Whoever has a tunnel is none of the server's connections any more.
    for (const socket of this.sockets) socket.destroy();
    this.server.closeAllConnections();
    await new Promise((done) => this.server.close(done));
  }
}

const proxy = new Proxy();
let near: TestSite;
let far: TestSite;

beforeAll(async () => {
  const address = await proxy.start();
  [near, far] = await Promise.all([
    TestSite.open({ WIDE_LEDGER_SITE: 'Near', WIDE_LEDGER_PROXY: address }),
    TestSite.open({ WIDE_LEDGER_SITE: 'Far' }),
  ]);
}, 60_000);
afterAll(async () => {
  await near.close();
  await far.close();
  await proxy.stop();
});

test('the path is walked, the site joined, and values carried through it', async () => {
  const { host } = new URL(far.site.url);
  const path = await near.call<LinkCheck>('POST', '/links/check', { url: far.site.url });
  expect(path.body.rungs.map(({ outcome }) => outcome)).not.toContain('failed');
  expect(path.body.rungs.find(({ rung }) => rung === 'encryption')!.sentence).toContain('Through the proxy 127.0.0.1');
  expect(proxy.tunnels).toContain(host);

  await near.tag({ name: 'T' });
  const { body } = await far.call<{ code: string }>('POST', '/links/invitations', { name: 'Near' });
  const made = await near.call('POST', '/links', { name: 'To Far', url: far.site.url, code: body.code });
  expect(made.status).toBe(201);
  const time = new Date().toISOString();
  await near.call('POST', '/samples', { samples: [{ tag: 'T', time, value: 7 }] });
  const links = async (): Promise<unknown> => (await near.call('GET', '/links')).body;
  await until(
    'it is there',
    async () => {
      const { status, body: raw } = await far.call<RawAnswer>('GET', `/history/raw?tag=T&from=now-1h&to=now`);
      return status === 200 && raw.samples.some(({ value }) => value === 7);
    },
    links,
  );
});

test('a proxy that is gone is told as what it is', async () => {
  await proxy.stop();
  await near.call('POST', '/samples', { samples: [{ tag: 'T', time: new Date().toISOString(), value: 8 }] });
  const link = async () => (await near.call<LinksAnswer>('GET', '/links')).body.sending[0]!;
  await until('the link says so', async () => (await link()).state === 'away', link);
});
