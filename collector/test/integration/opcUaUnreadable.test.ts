/**
 * Variables that a server does not let anybody read at the moment: they can be taken all the same, with the type that they
 * declare, and what is wrong is said by name.
 * @jest-environment ./collector/test/oneRealm.mjs
 */
import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { DataType, OPCUACertificateManager, OPCUAServer, StatusCodes, Variant } from 'node-opcua';
import { freePort } from '../../../launch/ground.mjs';
import { opcUa } from '../../src/index.ts';
import { ALONE } from '../alone.ts';
import { opcUaTo } from '../tags.ts';

const folder = mkdtempSync(join(tmpdir(), 'wide-ledger-unreadable-'));
let server: OPCUAServer;
let port: number;
let certificates: OPCUACertificateManager;
beforeAll(async () => {
  port = await freePort();
  certificates = new OPCUACertificateManager({
    rootFolder: join(folder, 'server'),
    automaticallyAcceptUnknownCertificate: true,
  });
  server = new OPCUAServer({ host: '127.0.0.1', port, serverCertificateManager: certificates });
  await server.initialize();
  const { addressSpace } = server.engine;
  const own = addressSpace!.getOwnNamespace();
  const plant = own.addObject({
    organizedBy: addressSpace!.rootFolder.objects,
    browseName: 'Plant',
    nodeId: 's=Plant',
  });
  for (const dataType of ['Double', 'Int32', 'UInt64', 'Boolean', 'String', 'Number', 'UInteger'] as const)
    own.addVariable({
      componentOf: plant,
      browseName: dataType,
      nodeId: `s=${dataType}`,
      dataType,
      accessLevel: 'CurrentWrite',
      userAccessLevel: 'CurrentWrite',
    });
  own.addVariable({
    componentOf: plant,
    browseName: 'Starting',
    nodeId: 's=Starting',
    dataType: 'Float',
    value: { get: () => new Variant({ dataType: DataType.Null }) },
  });
  own.addVariable({
    componentOf: plant,
    browseName: 'Broken',
    nodeId: 's=Broken',
    dataType: 'Float',
    value: { get: () => StatusCodes.BadSensorFailure },
  });
  await server.start();
}, 60_000);
afterAll(async () => {
  await server.shutdown(0);
  await certificates.dispose();
  rmSync(folder, { recursive: true, force: true });
}, 60_000);

test('a variable that cannot be read has the type that it declares, and its status by name', async () => {
  const source = { name: 'S', kind: 'opc-ua', connection: opcUaTo(port) } as const;
  const around = { ...ALONE, folder: join(folder, 'collector') };
  const { nodes } = await opcUa.browse!(source, 'ns=1;s=Plant', around);
  expect(nodes.map(({ name, type, typeWords, quality }) => [name, type, typeWords, quality])).toEqual([
    ['Double', 'real', 'Double', 'Bad_NotReadable'],
    ['Int32', 'integer', 'Int32', 'Bad_NotReadable'],
    ['UInt64', 'integer', 'UInt64', 'Bad_NotReadable'],
    ['Boolean', 'boolean', 'Boolean', 'Bad_NotReadable'],
    ['String', 'text', 'String', 'Bad_NotReadable'],
    ['Number', 'real', 'Double', 'Bad_NotReadable'],
    ['UInteger', 'integer', 'UInt64', 'Bad_NotReadable'],
    ['Starting', 'real', 'Float', 'Good'],
    ['Broken', 'real', 'Float', 'Bad_SensorFailure'],
  ]);
});
