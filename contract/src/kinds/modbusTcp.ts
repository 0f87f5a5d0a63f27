/** Modbus TCP: what a connection and an address are made of, and what a source of this kind can do. */
import { REGISTER_TYPES, WORD_ORDERS } from '@wide-ledger/core';
import { z } from 'zod';
import { describeKind } from './describe.ts';

export const MODBUS_AREAS = ['coil', 'discrete', 'input', 'holding'] as const;

export const modbusConnection = z.strictObject({
  host: z.string().max(253).default('').meta({ title: 'Host', description: 'empty: this machine' }),
  port: z.number().int().min(1).max(65535).default(502).meta({ title: 'Port' }),
  unit: z.number().int().min(0).max(255).default(1).meta({ title: 'Unit number' }),
  timeoutMilliseconds: z
    .number()
    .int()
    .min(50)
    .max(60_000)
    .default(1000)
    .meta({ title: 'Time-out', description: 'ms' }),
});
export type ModbusConnection = z.infer<typeof modbusConnection>;

/** Where a value lies in a Modbus device. Addresses count from 0, as on the wire. */
export const modbusAddress = z.strictObject({
  area: z.enum(MODBUS_AREAS).meta({ title: 'Area' }),
  address: z.number().int().min(0).max(65535).meta({ title: 'Address', description: 'counts from 0' }),
  type: z.enum(REGISTER_TYPES).default('uint16').meta({ title: 'Register type' }),
  order: z.enum(WORD_ORDERS).default('ABCD').meta({ title: 'Byte order' }),
});
export type ModbusAddress = z.infer<typeof modbusAddress>;

export const modbusTcp = describeKind({
  kind: 'modbus-tcp',
  words: 'Modbus TCP',
  connection: modbusConnection,
  address: modbusAddress,
  whither: ({ host, port, unit }) => `${host || 'this machine'}:${port}, unit ${unit}`,
  where: ({ area, address, type, order }) =>
    area === 'coil' || area === 'discrete' ? `${area} ${address}` : `${area} ${address} · ${type} ${order}`,
  rungs: ['name', 'port', 'answer', 'value'],
  offers: { poll: true, subscribe: false, browse: false, history: false, events: false, write: false },
});
