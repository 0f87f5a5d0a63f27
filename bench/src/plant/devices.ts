/** The plant's devices, in one list. */
import { join } from 'node:path';
import type { Device } from '../devices/device.ts';
import { GatewayDevice } from '../devices/modbus/gatewayDevice.ts';
import { ModbusDevice } from '../devices/modbus/modbusDevice.ts';
import { OpcUaDevice } from '../devices/opcua/opcUaDevice.ts';
import { SecondWay } from '../devices/opcua/secondWay.ts';
import { GATEWAY } from './gateway.ts';
import { KILNBANK } from './kilnbank/controller.ts';
import { THORNMERE } from './thornmere.ts';
import { THORNMERE_CONTROLLER } from './thornmereController.ts';

const HOST = '127.0.0.1';

/** Ports that the devices take from the first one on: a line and a device behind it each. */
export const KILNBANK_PORT = 2;
export const GATEWAY_PORT = 4;
export const THORNMERE_CONTROLLER_PORT = 6;
/** A line alone: the second way to Kilnbank's controller. */
const SECOND_WAY_PORT = 8;

/** What a controller remembers by itself. */
export const CONTROLLER_RING = { capacity: 20_000, feeding: { by: 'time', milliseconds: 2000 } } as const;

/**
 * @param port of the first device's line; the devices themselves and further lines have the ports after it.
 * @param folder where devices keep what is their own, such as certificates.
 */
export function plantDevices(port: number, folder: string): Device[] {
  const kilnbank = new OpcUaDevice(KILNBANK, HOST, port + KILNBANK_PORT, port + KILNBANK_PORT + 1, {
    folder,
    ring: CONTROLLER_RING,
  });
  return [
    new ModbusDevice(THORNMERE, HOST, port, port + 1),
    new GatewayDevice(GATEWAY, HOST, port + GATEWAY_PORT, port + GATEWAY_PORT + 1),
    kilnbank,
    new OpcUaDevice(
      THORNMERE_CONTROLLER,
      HOST,
      port + THORNMERE_CONTROLLER_PORT,
      port + THORNMERE_CONTROLLER_PORT + 1,
      {
        folder: join(folder, 'thornmere'),
        ring: CONTROLLER_RING,
      },
    ),
    new SecondWay(kilnbank, HOST, port + SECOND_WAY_PORT, port + KILNBANK_PORT + 1),
  ];
}
