/** The line between a device and the world, with everything that can be wrong with it; over real sockets. */
import { connect, createServer, type Server, type Socket } from 'node:net';
import { freePort } from '../../../launch/ground.mjs';
import { Relay, delayByLoss, type Fault } from '../../src/index.ts';

let inner: Server;
let relay: Relay;
let port: number;
const heard: string[] = [];

beforeAll(async () => {
  // A device that says back what it hears.
  inner = createServer((socket) => {
    socket.on('error', () => undefined);
    socket.on('data', (bytes) => {
      heard.push(bytes.toString());
      socket.write(`<${bytes.toString()}>`);
    });
  });
  await new Promise<void>((done) => inner.listen(0, '127.0.0.1', done));
  port = await freePort();
  const { port: own } = inner.address() as { port: number };
  relay = new Relay('line', '127.0.0.1', port, own);
  await relay.open();
});
afterAll(async () => {
  await relay.stop();
  await new Promise((done) => inner.close(done));
});
afterEach(() => relay.set(null));

/** A connection through the line, with what came out of it so far. */
async function dial(): Promise<{ socket: Socket; said: () => string; closed: Promise<unknown> }> {
  const socket = connect(port, '127.0.0.1');
  let text = '';
  socket.on('data', (bytes) => (text += bytes.toString()));
  socket.on('error', () => undefined);
  const closed = new Promise((done) => socket.once('close', done));
  await new Promise<void>((done, fail) => {
    socket.once('connect', done);
    socket.once('error', fail);
  });
  return { socket, said: () => text, closed };
}

const until = async (check: () => boolean): Promise<void> => {
  while (!check()) await new Promise((done) => setTimeout(done, 5));
};
/** Through a round trip of another connection: whatever was to come of this one has come. */
const settled = async (): Promise<void> => {
  const sent = heard.length;
  await until(() => heard.length >= sent);
  await new Promise((done) => setTimeout(done, 50));
};

test('what is whole passes both ways', async () => {
  const { socket, said } = await dial();
  socket.write('a');
  await until(() => said() === '<a>');
  expect(relay.state).toMatchObject({ fault: null, connections: 1, port });
  socket.destroy();
});

test('cut, everything that stands drops, and nothing new gets in; restored, it does', async () => {
  const { closed } = await dial();
  await relay.set({ kind: 'cut' });
  await closed;
  await expect(dial()).rejects.toMatchObject({ code: 'ECONNREFUSED' });
  expect(relay.state).toMatchObject({ fault: { kind: 'cut' }, connections: 0 });
  await relay.set(null);
  const { socket, said } = await dial();
  socket.write('b');
  await until(() => said() === '<b>');
  socket.destroy();
});

test('stalled, connections stand and nothing gets through; afterwards all of it comes, in order', async () => {
  const { socket, said } = await dial();
  await relay.set({ kind: 'stalled' });
  const before = heard.length;
  socket.write('c');
  const late = await dial();
  late.socket.write('d');
  await settled();
  expect([said(), late.said(), heard.slice(before)]).toEqual(['', '', []]);
  await relay.set(null);
  await until(() => said() === '<c>' && late.said() === '<d>');
  socket.destroy();
  late.socket.destroy();
});

test('deaf, the device hears and no answer comes back', async () => {
  const { socket, said } = await dial();
  await relay.set({ kind: 'deaf' });
  socket.write('e');
  await until(() => heard.includes('e'));
  await settled();
  expect(said()).toBe('');
  socket.destroy();
});

test('doubled, every answer comes twice', async () => {
  const { socket, said } = await dial();
  await relay.set({ kind: 'doubled' });
  socket.write('f');
  await until(() => said() === '<f><f>');
  socket.destroy();
});

test.each<[string, Fault, number]>([
  ['slow', { kind: 'slow', milliseconds: 80 }, 160],
  ['narrow', { kind: 'narrow', bytesPerSecond: 100 }, 200],
])('%s, an answer takes at least as long as the line does', async (_, fault, least) => {
  const { socket, said } = await dial();
  await relay.set(fault);
  const started = performance.now();
  socket.write('0123456789');
  await until(() => said() === '<0123456789>');
  // Timers may fire a moment early.
  expect(performance.now() - started).toBeGreaterThan(least - 10);
  socket.destroy();
});

test('a script plays its faults one after the other, and a new one ends it', async () => {
  relay.play([
    { after: 0, fault: { kind: 'cut' } },
    { after: 60_000, fault: null },
  ]);
  await until(() => relay.state.fault?.kind === 'cut');
  relay.play([{ after: 0, fault: null }]);
  await until(() => relay.state.fault === null);
});

test('a taken port is said by its name', async () => {
  const second = new Relay('second line', '127.0.0.1', port, 1);
  await expect(second.open()).rejects.toThrow(/second line is taken.*EADDRINUSE/);
});

test('flapping, it is whole and cut in turn until that ends', async () => {
  const turns: boolean[] = [];
  await relay.set({ kind: 'flapping', wholeMilliseconds: 60, cutMilliseconds: 60 });
  const { closed } = await dial();
  await closed;
  while (turns.length < 40 || !(turns.includes(true) && turns.includes(false))) {
    turns.push(
      await dial().then(
        ({ socket }) => socket.destroy() === socket,
        () => false,
      ),
    );
    await new Promise((done) => setTimeout(done, 5));
  }
  expect(relay.state.fault?.kind).toBe('flapping');
  await relay.set(null);
  const { socket, said } = await dial();
  socket.write('b');
  await until(() => said() === '<b>');
  socket.destroy();
  // It ends also where it is cut just then, and is not opened again behind one's back.
  await relay.set({ kind: 'flapping', wholeMilliseconds: 1, cutMilliseconds: 1 });
  await relay.set({ kind: 'cut' });
  for (let i = 0; i < 20; i++) await expect(dial()).rejects.toMatchObject({ code: 'ECONNREFUSED' });
});

test('lossy, what is lost comes when it is sent again, in its order, and nothing is missing', async () => {
  await relay.set({ kind: 'lossy', percent: 60 });
  const { socket, said } = await dial();
  socket.write('c');
  await until(() => said() === '<c>');
  socket.write('d');
  await until(() => said() === '<c><d>');
  socket.destroy();
});

test('each loss doubles the wait for the next sending; what is not lost is not late', () => {
  const drawn =
    (...chances: number[]) =>
    () =>
      chances.shift()!;
  expect(delayByLoss(2, drawn(0.5))).toBe(0);
  expect(delayByLoss(2, drawn(0.01, 0.5))).toBe(200);
  expect(delayByLoss(2, drawn(0.01, 0.019, 0, 0.02))).toBe(200 + 400 + 800);
  expect(delayByLoss(0, drawn(0))).toBe(0);
});
