/** Function 22, which the client library does not have: over a connection of its own, for one request. */
import { connect } from 'node:net';
import type { Write } from './writing.ts';

const HEAD = 7;
const EXCEPTION = 0x80;

/** The request as it goes over the line (Modbus Messaging on TCP/IP V1.0b, 3.1.3; Application Protocol V1.1b3, 6.16). */
export function maskWriteFrame(
  transaction: number,
  unit: number,
  { address, and, or }: Extract<Write, { by: 22 }>,
): Buffer {
  const frame = Buffer.alloc(HEAD + 7);
  frame.writeUInt16BE(transaction, 0);
  // Protocol 0, then how many bytes follow.
  frame.writeUInt16BE(8, 4);
  frame.writeUInt8(unit, 6);
  frame.writeUInt8(22, 7);
  frame.writeUInt16BE(address, 8);
  frame.writeUInt16BE(and, 10);
  frame.writeUInt16BE(or, 12);
  return frame;
}

/**
 * Sets bits of a register. @returns the device's exception; null where it did as it was told.
 * @throws Error with the code of what is wrong with the network; `NO_ANSWER` where nothing comes back
 */
export function maskWrite(
  { host, port, unit, timeoutMilliseconds }: { host: string; port: number; unit: number; timeoutMilliseconds: number },
  write: Extract<Write, { by: 22 }>,
): Promise<number | null> {
  return new Promise((done, fail) => {
    const socket = connect(port, host);
    let heard = Buffer.alloc(0);
    const end = (code: string): void => {
      socket.destroy();
      fail(Object.assign(new Error(code), { code }));
    };
    const timer = setTimeout(() => end('NO_ANSWER'), timeoutMilliseconds);
    socket.once('close', () => clearTimeout(timer));
    socket.once('connect', () => socket.write(maskWriteFrame(1, unit, write)));
    socket.once('error', (error: NodeJS.ErrnoException) => end(error.code ?? 'ECONNRESET'));
    socket.once('end', () => end('CLOSED'));
    socket.on('data', (part) => {
      heard = Buffer.concat([heard, part]);
      if (heard.length < HEAD + 2) return;
      socket.destroy();
      done(heard[HEAD]! & EXCEPTION ? heard[HEAD + 1]! : null);
    });
  });
}
