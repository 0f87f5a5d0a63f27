/** The plant's devices, in one list. */
import type { Device } from '../devices/device.ts';
import { ModbusDevice } from '../devices/modbus/modbusDevice.ts';
import { THORNMERE } from './thornmere.ts';

const HOST = '127.0.0.1';

/** @param port of the first device's line; the devices themselves and further lines have the ports after it. */
export const plantDevices = (port: number): Device[] => [new ModbusDevice(THORNMERE, HOST, port, port + 1)];
