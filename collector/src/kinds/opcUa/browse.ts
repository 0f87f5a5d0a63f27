/** Looking through a server's tree: what lies below a node, with types, units, ranges and present values. */
import type { BrowseAnswer, BrowsedNode } from '@wide-ledger/contract';
import { describeStatus } from '@wide-ledger/core';
import type { DataValue, ReferenceDescription } from 'node-opcua-client';
import type { Approach } from './connecting.ts';
import type { Value } from '../kind.ts';
import type { OpcUa } from './library.ts';
import { plainOf } from './values.ts';

/** The Objects folder: OPC 10000-5, 8.2.4. */
export const OBJECTS = 'i=85';
/** Most nodes that are told of one folder. */
const MOST_NODES = 1000;
/** References of a variable to what describes it: OPC 10000-8, 5.3. */
const DESCRIBING = ['EngineeringUnits', 'EURange', 'EnumStrings', 'EnumValues'];

/** What lies below a node. @throws SourceAway */
export async function browseNode(approach: Approach, node: string): Promise<BrowseAnswer> {
  const { library } = approach;
  const references = await below(approach, [node]);
  const shown = references[0]!.slice(0, MOST_NODES);
  const ids = shown.map(({ nodeId }) => nodeId.toString());
  const isVariable = shown.map(({ nodeClass }) => Number(nodeClass) === Number(library.NodeClass.Variable));
  const [underneath, properties, values, descriptions, declared] = await Promise.all([
    below(approach, ids),
    propertiesOf(approach, ids),
    read(approach, ids, library.AttributeIds.Value),
    read(approach, ids, library.AttributeIds.Description),
    read(approach, ids, library.AttributeIds.DataType),
  ]);
  const nodes = shown.map((reference, i): BrowsedNode => {
    const value = isVariable[i] ? values[i]! : null;
    return {
      node: ids[i]!,
      name: reference.displayName.text ?? reference.browseName.name ?? ids[i]!,
      description: (descriptions[i]!.value.value as { text?: string } | null)?.text ?? '',
      hasBelow: underneath[i]!.length > 0,
      ...typeOf(value && withType(value, declared[i]!, library), properties[i]!, library),
      ...properties[i]!,
      taken: [],
    };
  });
  return { nodes, more: references[0]!.length > MOST_NODES };
}

/** Forward hierarchical references to objects and variables, properties left out. */
async function below(approach: Approach, nodes: readonly string[]): Promise<ReferenceDescription[][]> {
  if (nodes.length === 0) return [];
  const { BrowseDirection, NodeClass } = approach.library;
  const browsing = approach.library.browseAll(
    approach.session!,
    nodes.map((nodeId) => ({
      nodeId,
      browseDirection: BrowseDirection.Forward,
      referenceTypeId: 'i=33',
      includeSubtypes: true,
      nodeClassMask: NodeClass.Object | NodeClass.Variable,
      resultMask: 63,
    })),
  );
  const results = await approach.attempt(browsing);
  const HAS_PROPERTY = 46;
  return results.map(({ references }) =>
    (references ?? []).filter(({ referenceTypeId }) => referenceTypeId.value !== HAS_PROPERTY),
  );
}

type Properties = Pick<BrowsedNode, 'unit' | 'low' | 'high' | 'states'>;

/** Unit, range and states of variables that say them (AnalogItemType, MultiStateDiscreteType, enumerations). */
async function propertiesOf(approach: Approach, nodes: readonly string[]): Promise<Properties[]> {
  const { session, library } = approach;
  if (nodes.length === 0) return [];
  const paths = nodes.flatMap((node) => DESCRIBING.map((name) => library.makeBrowsePath(node, `.${name}`)));
  const found = await approach.attempt(session!.translateBrowsePath(paths));
  const targets = found.map(({ targets: known }) => known?.[0]?.targetId.toString() ?? null);
  const wanted = targets.filter((target) => target !== null);
  const said = await read(approach, wanted, library.AttributeIds.Value);
  const byNode = new Map(wanted.map((target, i) => [target, said[i]!.value.value as unknown]));
  return nodes.map((_, i) => {
    const at = (name: string): unknown => {
      const target = targets[i * DESCRIBING.length + DESCRIBING.indexOf(name)];
      return target ? byNode.get(target) : undefined;
    };
    const range = at('EURange') as { low?: number; high?: number } | undefined;
    const unit = at('EngineeringUnits') as { displayName?: { text?: string } } | undefined;
    return {
      unit: unit?.displayName?.text ?? '',
      low: range?.low ?? null,
      high: range?.high ?? null,
      states: statesOf(at('EnumStrings'), at('EnumValues')),
    };
  });
}

function statesOf(strings: unknown, values: unknown): Record<string, string> | null {
  if (Array.isArray(values))
    return Object.fromEntries(
      (values as { value: [number, number]; displayName: { text?: string } }[]).map(({ value, displayName }) => [
        String(value[1]),
        displayName.text ?? '',
      ]),
    );
  if (Array.isArray(strings))
    return Object.fromEntries((strings as { text?: string }[]).map(({ text }, i) => [String(i), text ?? '']));
  return null;
}

/** A value that cannot be read now, with the type that the variable declares: it may be taken all the same. */
function withType(said: DataValue, declared: DataValue, { DataType }: OpcUa): DataValue {
  if (said.value.dataType !== DataType.Null) return said;
  const { namespace, value } = (declared.value.value ?? {}) as { namespace?: number; value?: unknown };
  const dataType = namespace === 0 && typeof value === 'number' ? (ABSTRACT[value] ?? value) : 0;
  if (DataType[dataType] === undefined) return said;
  return Object.assign(said, { value: Object.assign(said.value, { dataType }) });
}

/** Types of which a server has values of more than one: Number, Integer, UInteger, Enumeration (OPC 10000-6, table 1 and A.3). */
const ABSTRACT: Readonly<Record<number, number>> = { 26: 11, 27: 8, 28: 9, 29: 6 };

/** The type of tag that could keep a variable's value, and the value itself. */
function typeOf(
  said: DataValue | null,
  { states }: Properties,
  library: OpcUa,
): Pick<BrowsedNode, 'type' | 'typeWords' | 'value' | 'quality' | 'elements'> {
  const { DataType, VariantArrayType } = library;
  const none = { type: null, typeWords: '', value: null, quality: null, elements: [] };
  if (!said) return none;
  const { value: variant, statusCode } = said;
  const quality = describeStatus(statusCode.value);
  const typeWords = DataType[variant.dataType] ?? '';
  if (variant.arrayType !== VariantArrayType.Scalar) {
    const { length } = (variant.value as ArrayLike<unknown> | null) ?? [];
    const elements = Array.from({ length: Math.min(length, 100) }, (_, i) => `[${i}]`);
    return { ...none, typeWords: `${typeWords} array of ${length}`, quality, elements };
  }
  if (variant.dataType === DataType.ExtensionObject) {
    const fields = Object.entries((variant.value as Record<string, unknown> | null) ?? {});
    const elements = fields
      .filter(([, field]) => ['number', 'boolean', 'string'].includes(typeof field))
      .map(([name]) => name);
    return { ...none, typeWords: 'Structure', quality, elements };
  }
  const type = tagTypeOf(variant.dataType, DataType);
  const plain = plainOf(variant.value, variant.dataType, library);
  return {
    type: type === 'integer' && states ? 'state' : type,
    typeWords,
    value: plain === null || plain === undefined ? null : shown(plain),
    quality,
    elements: [],
  };
}

function tagTypeOf(dataType: number, DataType: OpcUa['DataType']): BrowsedNode['type'] {
  const among = (...types: readonly number[]): boolean => types.includes(dataType);
  if (among(DataType.Boolean)) return 'boolean';
  if (among(DataType.Float, DataType.Double)) return 'real';
  // In the standard's numbering the integers stand together.
  if (dataType >= Number(DataType.SByte) && dataType <= Number(DataType.UInt64)) return 'integer';
  return among(DataType.String, DataType.LocalizedText, DataType.DateTime, DataType.Guid) ? 'text' : null;
}

function shown(value: Value | undefined): string {
  return (typeof value === 'number' ? String(Math.round(value * 1e6) / 1e6) : String(value)).slice(0, 80);
}

async function read(approach: Approach, nodes: readonly string[], attributeId: number): Promise<DataValue[]> {
  if (nodes.length === 0) return [];
  return approach.attempt(approach.session!.read(nodes.map((nodeId) => ({ nodeId, attributeId }))));
}
