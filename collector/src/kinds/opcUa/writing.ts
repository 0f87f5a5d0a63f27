/** Writing a value into an OPC UA server (OPC 10000-4, 5.10.4): in the type that the node has, an element by its index. */
import { explain, opcUaFault, wholeFor, type WHOLE_LIMITS } from '@wide-ledger/core';
import type { ClientSession, DataValue, Variant } from 'node-opcua-client';
import { rawOf, refusingMisfits } from '../../tagLife/rawValue.ts';
import { WriteRefused, type TagOf } from '../kind.ts';
import type { OpcUa } from './library.ts';

/** The standard's integer types (OPC 10000-6, 5.1.2), by their widths. */
const WIDTHS: Readonly<Record<string, keyof typeof WHOLE_LIMITS>> = {
  SByte: 'int8',
  Byte: 'uint8',
  Int16: 'int16',
  UInt16: 'uint16',
  Int32: 'int32',
  UInt32: 'uint32',
  Int64: 'int64',
  UInt64: 'uint64',
};

/** @throws WriteRefused; whatever the library throws where the server cannot be reached. */
export async function writeValue(
  library: OpcUa,
  session: ClientSession,
  tag: TagOf<'opc-ua'>,
  value: number | bigint | string,
): Promise<void> {
  const { node, element } = tag.reading.address;
  const { AttributeIds, StatusCodes } = library;
  const held = await session.read({ nodeId: node, attributeId: AttributeIds.Value });
  const variant = refusingMisfits(() => variantOf(library, held, element, rawOf(tag, value)));
  const status = await session.write({
    nodeId: node,
    attributeId: AttributeIds.Value,
    ...(element === '' ? {} : { indexRange: new library.NumericRange(indexOf(element)) }),
    value: new library.DataValue({ value: variant, statusCode: StatusCodes.Good }),
  });
  if (status.value >>> 31 === 0) return;
  throw new WriteRefused(`The server did not take it. ${explain(opcUaFault(status.value, status.name))}`, status.name);
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
  const width = WIDTHS[type];
  if (!width) throw new WriteRefused(`Nodes of the type ${type} cannot be written from here.`, 'TYPE');
  const whole = wholeFor(value, width, `${type} holds`);
  if (type !== 'Int64' && type !== 'UInt64') return Number(whole);
  // The library has 64-bit integers as two halves, the higher one first.
  const bits = BigInt.asUintN(64, whole);
  return [Number(bits >> 32n), Number(bits & 0xffff_ffffn)];
}
