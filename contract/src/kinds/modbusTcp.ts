/** Modbus TCP: what a connection and an address are made of, and what a source of this kind can do. */
import { REGISTER_TYPES, WORD_ORDERS } from '@wide-ledger/core';
import { z } from 'zod';
import { describeKind } from './describe.ts';
import { timeout } from './fields.ts';

export const MODBUS_AREAS = ['coil', 'discrete', 'input', 'holding'] as const;

export const modbusConnection = z.strictObject({
  host: z.string().max(253).default('').meta({ title: 'Host', description: 'empty: this machine' }),
  port: z.number().int().min(1).max(65535).default(502).meta({ title: 'Port' }),
  unit: z.number().int().min(0).max(255).default(1).meta({ title: 'Unit number' }),
  timeoutMilliseconds: timeout(50, 1000),
  gap: z
    .number()
    .int()
    .min(0)
    .max(124)
    .optional()
    .meta({ title: 'Gap limit', description: 'registers that nobody asked for, read along; 8' }),
  most: z
    .number()
    .int()
    .min(1)
    .max(125)
    .optional()
    .meta({ title: 'Size limit', description: 'registers of one request; 125' }),
  pauseMilliseconds: z
    .number()
    .int()
    .min(0)
    .max(10_000)
    .optional()
    .meta({ title: 'Pause', description: 'ms between requests; 0' }),
  retries: z
    .number()
    .int()
    .min(0)
    .max(5)
    .optional()
    .meta({ title: 'Retries', description: 'of a request without an answer; 0' }),
  writesSeveral: z
    .boolean()
    .optional()
    .meta({ title: 'Writes several', description: 'one value, too, by functions 15 and 16' }),
});
export type ModbusConnection = z.infer<typeof modbusConnection>;

/** Where a value lies in a Modbus device. Addresses count from 0, as on the wire. */
export const modbusAddress = z.strictObject({
  area: z.enum(MODBUS_AREAS).meta({ title: 'Area' }),
  address: z.number().int().min(0).max(65535).meta({ title: 'Address', description: 'counts from 0' }),
  type: z.enum(REGISTER_TYPES).default('uint16').meta({ title: 'Register type' }),
  order: z.enum(WORD_ORDERS).default('ABCD').meta({ title: 'Byte order' }),
  bit: z.number().int().min(0).max(15).optional().meta({ title: 'Bit', description: 'of a register, 0 to 15' }),
  length: z.number().int().min(1).max(60).optional().meta({ title: 'Registers', description: 'of a text; 8' }),
});
export type ModbusAddress = z.infer<typeof modbusAddress>;

export const modbusTcp = describeKind({
  kind: 'modbus-tcp',
  words: 'Modbus TCP',
  connection: modbusConnection,
  address: modbusAddress,
  whither: ({ host, port, unit }) => `${host || 'this machine'}:${port}, unit ${unit}`,
  where: ({ area, address, type, order, bit }) =>
    area === 'coil' || area === 'discrete'
      ? `${area} ${address}`
      : `${area} ${address} · ${type}${type === 'bit' ? ` ${bit ?? 0}` : ''} ${order}`,
  rungs: ['name', 'port', 'answer', 'value'],
  offers: { poll: true, subscribe: false, browse: false, history: false, events: false, write: true },
});
