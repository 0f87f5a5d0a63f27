import { connect } from 'node:net';

/** Whether anything listens on a port of this machine. */
export const listens = (port: number): Promise<boolean> =>
  new Promise((resolve) => {
    const socket = connect(port, '127.0.0.1');
    const end = (there: boolean): void => {
      socket.destroy();
      resolve(there);
    };
    socket.once('connect', () => end(true));
    socket.once('error', () => end(false));
  });
