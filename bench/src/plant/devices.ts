/** The plant's devices, in one list. */
import { join } from 'node:path';
import type { Device } from '../devices/device.ts';
import { GatewayDevice } from '../devices/modbus/gatewayDevice.ts';
import { ModbusDevice } from '../devices/modbus/modbusDevice.ts';
import { ServiceDevice } from '../devices/http/serviceDevice.ts';
import { BrokerDevice } from '../devices/mqtt/brokerDevice.ts';
import { BoilerLogDevice, type LoggerDatabase } from '../devices/records/boilerLogDevice.ts';
import { LaboratoryDevice } from '../devices/records/laboratoryDevice.ts';
import { RecorderDevice } from '../devices/records/recorderDevice.ts';
import { OpcUaDevice } from '../devices/opcua/opcUaDevice.ts';
import { SecondWay } from '../devices/opcua/secondWay.ts';
import { SiteLine } from '../devices/siteLine.ts';
import { GATEWAY } from './gateway.ts';
import { KILNBANK } from './kilnbank/controller.ts';
import { SALTQUAY } from './saltquay.ts';
import { THORNMERE } from './thornmere.ts';
import { THORNMERE_CONTROLLER } from './thornmereController.ts';

const HOST = '127.0.0.1';

/** Ports that the devices take from the first one on: a line and a device behind it each. */
export const KILNBANK_PORT = 2;
export const GATEWAY_PORT = 4;
export const THORNMERE_CONTROLLER_PORT = 6;
/** A line alone: the second way to Kilnbank's controller. */
const SECOND_WAY_PORT = 8;
export const SALTQUAY_PORT = 9;
/** Lines alone, one from each site of the plant to the region. */
export const REGION_LINES = { Thornmere: 11, Kilnbank: 12, Saltquay: 13 } as const;

/** After those lines: the weather station and the nameplates. */
export const WEATHER_PORT = 14;

/** The line to the database of Kilnbank's boiler log. */
export const BOILER_LOG_PORT = 16;

/** What a controller remembers by itself. */
export const CONTROLLER_RING = { capacity: 20_000, feeding: { by: 'time', milliseconds: 2000 } } as const;

/** Where what a site writes down is put. */
export interface RecordPlaces {
  readonly folder: string;
  readonly database: LoggerDatabase;
}

/**
 * @param port of the first device's line; the devices themselves and further lines have the ports after it.
 * @param folder where devices keep what is their own, such as certificates.
 * @param regionPort where the region's site listens; without one there are no lines to it.
 * @param records where Kilnbank writes down what it does: a folder, and a database. Without them it does not.
 */
export function plantDevices(port: number, folder: string, regionPort?: number, records?: RecordPlaces): Device[] {
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
    new BrokerDevice(SALTQUAY, HOST, port + SALTQUAY_PORT, port + SALTQUAY_PORT + 1, join(folder, 'saltquay')),
    new ServiceDevice(HOST, port + WEATHER_PORT, port + WEATHER_PORT + 1),
    ...(records === undefined
      ? []
      : [
          new RecorderDevice(records.folder),
          new LaboratoryDevice(records.folder),
          new BoilerLogDevice(HOST, port + BOILER_LOG_PORT, records.database),
        ]),
    ...(regionPort === undefined ? [] : regionLines(port, regionPort)),
  ];
}

const regionLines = (port: number, regionPort: number): Device[] =>
  Object.entries(REGION_LINES).map(
    ([site, after]) => new SiteLine(`${site} to the region`, site, HOST, port + after, regionPort),
  );
