/** Writing a value into an OPC UA server (OPC 10000-4, 5.10.4): in the type that the node has, an element by its index. */
import { UnwritableError, explain, opcUaFault, unscale } from '@wide-ledger/core';
import type { ClientSession, DataValue, Variant } from 'node-opcua';
import { WriteRefused, type TagOf } from '../kind.ts';
import type { OpcUa } from './library.ts';

const WHOLE_LIMITS: Readonly<Record<string, readonly [least: bigint, most: bigint]>> = {
  SByte: [-128n, 127n],
  Byte: [0n, 255n],
  Int16: [-32_768n, 32_767n],
  UInt16: [0n, 65_535n],
  Int32: [-(2n ** 31n), 2n ** 31n - 1n],
  UInt32: [0n, 2n ** 32n - 1n],
  Int64: [-(2n ** 63n), 2n ** 63n - 1n],
  UInt64: [0n, 2n ** 64n - 1n],
};

/** @throws WriteRefused; whatever the library throws where the server cannot be reached. */
export async function writeValue(
  library: OpcUa,
  session: ClientSession,
  { reading: { address, scaling } }: TagOf<'opc-ua'>,
  value: number | bigint | string,
): Promise<void> {
  const { node, element } = address;
  const { AttributeIds, StatusCodes } = library;
  const held = await session.read({ nodeId: node, attributeId: AttributeIds.Value });
  const raw =
    typeof value === 'string' || scaling === null || scaling === undefined ? value : scaledBack(value, scaling);
  const status = await session.write({
    nodeId: node,
    attributeId: AttributeIds.Value,
    ...(element === '' ? {} : { indexRange: new library.NumericRange(indexOf(element)) }),
    value: new library.DataValue({ value: variantOf(library, held, element, raw), statusCode: StatusCodes.Good }),
  });
  if (status.value >>> 31 === 0) return;
  throw new WriteRefused(`The server did not take it. ${explain(opcUaFault(status.value, status.name))}`, status.name);
}

function scaledBack(value: number | bigint, scaling: Parameters<typeof unscale>[1]): number {
  try {
    return unscale(Number(value), scaling);
  } catch (error) {
    if (error instanceof UnwritableError) throw new WriteRefused(error.message, 'DOES_NOT_FIT');
    throw error;
  }
}

/** The range of one element of an array; fields of structures cannot be written by themselves. */
function indexOf(element: string): string {
  const [, index] = /^\[(\d+)\]$/.exec(element) ?? [];
  if (index === undefined)
    throw new WriteRefused(
      'A field of a structure cannot be written by itself: the server takes structures whole.',
      'STRUCTURE',
    );
  return index;
}

/** The value in the type of what the node holds. */
function variantOf(
  library: OpcUa,
  { value: held, statusCode }: DataValue,
  element: string,
  value: number | bigint | string,
): Variant {
  const { DataType, Variant, VariantArrayType } = library;
  const { dataType, arrayType } = held;
  if (dataType === DataType.Null)
    throw new WriteRefused(`The node holds no value (${statusCode.name}), so its type is not known.`, 'NO_TYPE');
  const isArray = arrayType !== VariantArrayType.Scalar;
  if (isArray && element === '')
    throw new WriteRefused('The node holds an array: only an element of it can be written.', 'ARRAY');
  const plain = plainFor(DataType[dataType], value);
  return isArray
    ? new Variant({ dataType, arrayType: VariantArrayType.Array, value: [plain] })
    : new Variant({ dataType, value: plain });
}

function plainFor(type: string, value: number | bigint | string): unknown {
  if (type === 'String') return String(value);
  if (typeof value === 'string') throw new WriteRefused(`The node holds a ${type}, and "${value}" is a text.`, 'TYPE');
  if (type === 'Boolean') {
    if (value !== 0 && value !== 1) throw new WriteRefused('The node holds a Boolean: 0 or 1.', 'TYPE');
    return value === 1;
  }
  if (type === 'Float' || type === 'Double') return Number(value);
  const limits = WHOLE_LIMITS[type];
  if (!limits) throw new WriteRefused(`Nodes of the type ${type} cannot be written from here.`, 'TYPE');
  const whole = typeof value === 'bigint' ? value : BigInt(Math.round(value));
  if (whole < limits[0] || whole > limits[1])
    throw new WriteRefused(
      `${type} holds whole numbers from ${limits[0]} to ${limits[1]}; ${whole} does not fit.`,
      'DOES_NOT_FIT',
    );
  if (type !== 'Int64' && type !== 'UInt64') return Number(whole);
  // The library has 64-bit integers as two halves, the higher one first.
  const bits = BigInt.asUintN(64, whole);
  return [Number(bits >> 32n), Number(bits & 0xffff_ffffn)];
}
