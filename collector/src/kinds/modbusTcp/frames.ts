/**
 * The bytes of Modbus TCP: requests, and answers checked against the request that they belong to. Pure.
 * Sources: Modbus Messaging on TCP/IP Implementation Guide V1.0b, 3.1.3; Modbus Application Protocol V1.1b3, section 6.
 */
import type { Answer, Area } from './requests.ts';
import type { Write } from './writing.ts';

/** Transaction, protocol, length and unit come before each request and answer. */
const HEAD = 7;
/** A protocol data unit has at most 253 bytes; the length in the head counts the unit as well. */
const LONGEST = 254;
const EXCEPTION = 0x80;

const READ_FUNCTION: Readonly<Record<Area, number>> = { coil: 1, discrete: 2, holding: 3, input: 4 };

/** Bytes that are not an answer to what was asked. The message completes the sentence "It sent what is no Modbus answer: …". */
export class BrokenAnswer extends Error {}

/** A request, and what its answer has to look like. */
export interface Request {
  readonly pdu: Buffer;
  /** Takes the data out of an answer of the same function, without the function code. @throws BrokenAnswer */
  read(body: Buffer): Answer;
}

const words = (...values: number[]): Buffer => {
  const bytes = Buffer.alloc(2 * values.length);
  values.forEach((value, i) => bytes.writeUInt16BE(value, 2 * i));
  return bytes;
};

/** Reads registers or bits (functions 1 to 4). */
export function readRequest(area: Area, start: number, length: number): Request {
  const code = READ_FUNCTION[area];
  const bits = code <= 2;
  const expected = bits ? Math.ceil(length / 8) : 2 * length;
  return {
    pdu: Buffer.concat([Buffer.of(code), words(start, length)]),
    read: (body) => {
      if (body[0] !== expected || body.length !== 1 + expected)
        throw new BrokenAnswer(
          `${expected} bytes of data were asked for, the answer announces ${body[0] ?? 0} and holds ${Math.max(0, body.length - 1)}`,
        );
      const data = body.subarray(1);
      return {
        data: bits ? Array.from({ length }, (_, i) => Boolean((data[i >> 3]! >> (i & 7)) & 1)) : data,
      };
    },
  };
}

/** Writes one value (functions 5, 6, 15, 16, 22). A device repeats the request, or its first five bytes. */
export function writeRequest(write: Write): Request {
  const pdu = pduOfWrite(write);
  const repeated = write.by === 15 || write.by === 16 ? pdu.subarray(1, 5) : pdu.subarray(1);
  return {
    pdu,
    read: (body) => {
      if (!body.equals(repeated)) throw new BrokenAnswer('it confirms something other than what was written');
      return { data: body };
    },
  };
}

function pduOfWrite(write: Write): Buffer {
  const head = Buffer.of(write.by);
  switch (write.by) {
    case 5:
      return Buffer.concat([head, words(write.address, write.on ? 0xff00 : 0)]);
    case 6:
      return Buffer.concat([head, words(write.address, write.word)]);
    case 15:
      return Buffer.concat([head, words(write.address, 1), Buffer.of(1, write.on ? 1 : 0)]);
    case 16:
      return Buffer.concat([
        head,
        words(write.address, write.data.length / 2),
        Buffer.of(write.data.length),
        write.data,
      ]);
    case 22:
      return Buffer.concat([head, words(write.address, write.and, write.or)]);
  }
}

/** A request as it goes over the line. */
export const frameOf = (transaction: number, unit: number, { pdu }: Request): Buffer =>
  Buffer.concat([words(transaction, 0, pdu.length + 1), Buffer.of(unit), pdu]);

/** One message of the device. */
export interface Message {
  readonly transaction: number;
  readonly unit: number;
  readonly pdu: Buffer;
}

/** Puts the messages of a connection together from the pieces in which they arrive. */
export class MessageReader {
  private rest: Buffer = Buffer.alloc(0);

  /** @returns the messages that are complete. @throws BrokenAnswer where the bytes are not Modbus TCP: nothing behind them can be read. */
  take(piece: Buffer): Message[] {
    this.rest = this.rest.length === 0 ? piece : Buffer.concat([this.rest, piece]);
    const messages: Message[] = [];
    while (this.rest.length >= HEAD) {
      const [transaction, protocol, length] = [0, 2, 4].map((at) => this.rest.readUInt16BE(at)) as [
        number,
        number,
        number,
      ];
      if (protocol !== 0) throw new BrokenAnswer(`its protocol number is ${protocol} instead of 0`);
      if (length < 3 || length > LONGEST)
        throw new BrokenAnswer(`it announces ${length} bytes, and 3 to 254 are allowed`);
      if (this.rest.length < HEAD - 1 + length) break;
      const pdu = this.rest.subarray(HEAD, HEAD - 1 + length);
      messages.push({ transaction, unit: this.rest[HEAD - 1]!, pdu });
      this.rest = this.rest.subarray(HEAD - 1 + length);
    }
    return messages;
  }
}

/** What a message says to a request: data, or the device's exception, whatever its number. @throws BrokenAnswer */
export function answerTo(request: Request, pdu: Buffer): Answer {
  const asked = request.pdu[0]!;
  const code = pdu[0]!;
  if (code === (asked | EXCEPTION)) {
    if (pdu.length !== 2) throw new BrokenAnswer(`an exception has 2 bytes, and this one has ${pdu.length}`);
    return { exception: pdu[1]! };
  }
  if (code !== asked) throw new BrokenAnswer(`function ${asked} was asked for, and function ${code} was answered`);
  return request.read(pdu.subarray(1));
}
