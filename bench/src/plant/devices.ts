/** The plant's devices, in one list. */
import type { Device } from '../devices/device.ts';
import { GatewayDevice } from '../devices/modbus/gatewayDevice.ts';
import { ModbusDevice } from '../devices/modbus/modbusDevice.ts';
import { OpcUaDevice } from '../devices/opcua/opcUaDevice.ts';
import { GATEWAY } from './gateway.ts';
import { KILNBANK } from './kilnbank/controller.ts';
import { THORNMERE } from './thornmere.ts';

const HOST = '127.0.0.1';

/** Ports that the devices take from the first one on: a line and a device behind it each. */
export const KILNBANK_PORT = 2;
export const GATEWAY_PORT = 4;

/**
 * @param port of the first device's line; the devices themselves and further lines have the ports after it.
 * @param folder where devices keep what is their own, such as certificates.
 */
export const plantDevices = (port: number, folder: string): Device[] => [
  new ModbusDevice(THORNMERE, HOST, port, port + 1),
  new GatewayDevice(GATEWAY, HOST, port + GATEWAY_PORT, port + GATEWAY_PORT + 1),
  new OpcUaDevice(KILNBANK, HOST, port + KILNBANK_PORT, port + KILNBANK_PORT + 1, {
    folder,
    ring: { capacity: 20_000, feeding: { by: 'time', milliseconds: 2000 } },
  }),
];
