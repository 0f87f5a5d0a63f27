/** A Modbus device that misbehaves by a seed: bytes, lengths, order and time of its answers. What is read as Good is true, or there is a sentence. */
import { isGood } from '@wide-ledger/core';
import { createServer, type Server, type Socket } from 'node:net';
import fc from 'fast-check';
import { freePort } from '../../../launch/ground.mjs';
import { ModbusSession } from '../../src/kinds/modbusTcp/session.ts';
import { MessageReader, BrokenAnswer, answerTo, readRequest, writeRequest } from '../../src/kinds/modbusTcp/frames.ts';
import { SourceAway, type Sample } from '../../src/index.ts';
import { tagAt } from '../tags.ts';

/** What the device does with a request; each is met in the field, or follows from a broken gateway. */
const MISCHIEFS = [
  'answers',
  'answers in pieces',
  'answers twice',
  'is late with the answer before',
  'exception',
  'wrong byte count',
  'too short',
  'another function',
  'another transaction',
  'another unit',
  'another protocol',
  'garbage',
  'breaks off',
  'says nothing',
] as const;
type Mischief = (typeof MISCHIEFS)[number];

/** Registers hold their own address plus 1,000: a value of another register shows. */
const held = (address: number): number => address + 1000;

class Liar {
  script: { mischief: Mischief; byte: number }[] = [];
  private readonly sockets = new Set<Socket>();
  private before: Buffer | null = null;
  private readonly server: Server = createServer((socket) => {
    this.sockets.add(socket);
    socket.on('error', () => undefined);
    let rest = Buffer.alloc(0);
    socket.on('data', (data) => {
      rest = Buffer.concat([rest, data]);
      for (; rest.length >= 12; rest = rest.subarray(12)) this.answer(socket, Buffer.from(rest.subarray(0, 12)));
    });
  });

  private answer(socket: Socket, request: Buffer): void {
    const { mischief, byte } = this.script.shift() ?? { mischief: 'answers', byte: 0 };
    const [start, length] = [request.readUInt16BE(8), request.readUInt16BE(10)];
    const values = Buffer.alloc(2 * length);
    for (let i = 0; i < length; i++) values.writeUInt16BE(held(start + i), 2 * i);
    const message = (pdu: Buffer): Buffer => {
      const head = Buffer.from(request.subarray(0, 7));
      head.writeUInt16BE(pdu.length + 1, 4);
      return Buffer.concat([head, pdu]);
    };
    const right = message(Buffer.concat([Buffer.of(3, values.length), values]));
    const altered = (at: number, to: number): Buffer => {
      const copy = Buffer.from(right);
      copy[at] = to;
      return copy;
    };
    const { before } = this;
    this.before = right;
    const sends: Record<Mischief, () => unknown> = {
      answers: () => socket.write(right),
      'answers in pieces': () => {
        const cut = 1 + (byte % (right.length - 1));
        socket.write(right.subarray(0, cut));
        setImmediate(() => socket.write(right.subarray(cut)));
      },
      'answers twice': () => socket.write(Buffer.concat([right, right])),
      'is late with the answer before': () => socket.write(Buffer.concat([before ?? right, right])),
      exception: () => socket.write(message(Buffer.of(0x83, byte))),
      'wrong byte count': () => socket.write(altered(8, byte)),
      'too short': () => socket.write(message(Buffer.concat([Buffer.of(3, values.length), values.subarray(0, -1)]))),
      'another function': () => socket.write(altered(7, byte)),
      'another transaction': () => socket.write(altered(1, byte)),
      'another unit': () => socket.write(altered(6, byte)),
      'another protocol': () => socket.write(altered(3, byte)),
      garbage: () => socket.write(Buffer.from(Array.from({ length: 40 }, (_, i) => (i * 31 + byte * 17) % 256))),
      'breaks off': () => socket.destroy(),
      'says nothing': () => undefined,
    };
    sends[mischief]();
  }

  listen(port: number): Promise<void> {
    return new Promise((done) => this.server.listen(port, '127.0.0.1', done));
  }

  async close(): Promise<void> {
    for (const socket of this.sockets) socket.destroy();
    await new Promise((done) => this.server.close(done));
  }
}

const tag = (address: number) =>
  tagAt(address, { area: 'holding', address, type: 'uint16', order: 'ABCD' } as const, { type: 'integer' });
/** Three requests, two of them alike but for the address: an answer to one fits the other. */
const TAGS = [tag(0), tag(1), tag(2), tag(200), tag(400)];

test('whatever a device sends, no value is wrong, no error escapes, and the next connection reads on', async () => {
  const port = await freePort();
  const device = new Liar();
  await device.listen(port);
  const connection = { host: '127.0.0.1', port, unit: 1, timeoutMilliseconds: 60 };
  /** A machine that is busy may take longer for a connection than an answer is waited for here. */
  const opened = async (): Promise<ModbusSession> => {
    for (;;) {
      const session = new ModbusSession({ name: 'L', kind: 'modbus-tcp', connection });
      const stands = await session.connect().then(
        () => true,
        () => false,
      );
      if (stands) return session;
    }
  };
  const script = fc.array(fc.record({ mischief: fc.constantFrom(...MISCHIEFS), byte: fc.nat(255) }), {
    minLength: 1,
    maxLength: 6,
  });
  let told = 0;
  try {
    await fc.assert(
      fc.asyncProperty(script, async (steps) => {
        device.script = [...steps];
        let session = await opened();
        const read = async (): Promise<Sample[]> => {
          try {
            return await session.read(TAGS);
          } catch (error) {
            expect(error).toBeInstanceOf(SourceAway);
            expect((error as Error).message).toContain(`127.0.0.1:${port}`);
            told++;
            session.close();
            session = await opened();
            return [];
          }
        };
        for (let turn = 0; turn < 8; turn++)
          for (const sample of await read())
            if (isGood(sample.status)) expect([sample.tag, sample.value]).toEqual([sample.tag, held(sample.tag)]);
            else expect(sample.fault?.sentence).toBeTruthy();
        // With nothing left to go wrong, all that the device never refused is read.
        device.script = [];
        session.close();
        session = await opened();
        for (let right = false; !right;) {
          const values = await session.read(TAGS).catch(() => null);
          if (values) expect(values.map(({ value }) => value)).toEqual(TAGS.map(({ id }) => held(id)));
          right = values !== null;
          if (!right) {
            session.close();
            session = await opened();
          }
        }
        session.close();
      }),
      { numRuns: 40 },
    );
    expect(told).toBeGreaterThan(0);
  } finally {
    await device.close();
  }
});

test('every exception code is an answer, known to the standard or not', () => {
  const request = readRequest('holding', 0, 2);
  for (let code = 0; code < 256; code++) expect(answerTo(request, Buffer.of(0x83, code))).toEqual({ exception: code });
});

test('only the answer that fits the request is read; all else is a broken answer', () => {
  const requests = [
    readRequest('holding', 7, 3),
    readRequest('coil', 7, 9),
    writeRequest({ by: 6, address: 1, word: 2 }),
    writeRequest({ by: 16, address: 1, data: Uint8Array.of(1, 2, 3, 4) }),
  ];
  fc.assert(
    fc.property(fc.constantFrom(...requests), fc.uint8Array({ minLength: 1, maxLength: 300 }), (request, bytes) => {
      try {
        const answer = answerTo(request, Buffer.from(bytes));
        if ('exception' in answer) expect([bytes[0], bytes.length]).toEqual([request.pdu[0]! | 0x80, 2]);
        else expect(bytes[0]).toBe(request.pdu[0]);
      } catch (error) {
        expect(error).toBeInstanceOf(BrokenAnswer);
      }
    }),
    { numRuns: 2000 },
  );
});

test('messages are put together whatever the pieces in which they come', () => {
  const one = Buffer.from('000100000005010302002a'.slice(0, 22), 'hex');
  const two = Buffer.from('00020000000301830b', 'hex');
  fc.assert(
    fc.property(fc.array(fc.nat(40), { maxLength: 6 }), (cuts) => {
      const bytes = Buffer.concat([one, two]);
      const ends = [...new Set(cuts.filter((cut) => cut < bytes.length))].toSorted((a, b) => a - b);
      const reader = new MessageReader();
      const read = [0, ...ends].flatMap((from, i) => reader.take(bytes.subarray(from, ends[i] ?? bytes.length)));
      expect(read.map(({ transaction, pdu }) => [transaction, pdu.toString('hex')])).toEqual([
        [1, '0302002a'],
        [2, '830b'],
      ]);
    }),
  );
});
