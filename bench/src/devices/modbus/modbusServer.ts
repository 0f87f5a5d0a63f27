/** The Modbus TCP server that every device of this protocol is behind its line. */
import ModbusRTU from 'modbus-serial';

type Server = InstanceType<typeof ModbusRTU.ServerTCP>;
/** How registers and bits are read. */
export type Vector = ConstructorParameters<typeof ModbusRTU.ServerTCP>[0];

/** Listens on loopback. @param unitID the one that is answered; 255: all of them. @returns how to stop it. */
export async function serveModbus(vector: Vector, port: number, unitID: number): Promise<() => Promise<void>> {
  const server: Server = new ModbusRTU.ServerTCP(vector, { host: '127.0.0.1', port, unitID, debug: false });
  server.on('socketError', () => undefined);
  await new Promise((done) => server.on('initialized', done));
  return () => new Promise((done) => server.close(() => done()));
}
