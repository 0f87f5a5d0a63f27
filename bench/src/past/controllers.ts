/** The controllers of the demo: a source each, and the tags that are kept of it. Their past begins when they are brought in. */
import { nodeIdOf } from '../devices/opcua/opcUaDevice.ts';
import { CONTROLLER_RING } from '../plant/devices.ts';
import type { Controller, Variable } from '../plant/variables.ts';

/** The source as the server takes it. @param port of its line. */
export const controllerSource = ({ name }: Controller, port: number): object => ({
  name,
  kind: 'opc-ua',
  connection: { endpoint: `opc.tcp://127.0.0.1:${port}`, bufferValues: CONTROLLER_RING.capacity },
});

const TYPES: Readonly<Record<Variable['type'], string>> = {
  Double: 'real',
  Float: 'real',
  Int32: 'integer',
  UInt16: 'integer',
  Int64: 'integer',
  Boolean: 'boolean',
  String: 'text',
  DoubleArray: 'real',
};

/** The tags that the demo keeps of it. */
export const controllerTags = (controller: Controller): object[] =>
  controller.variables.flatMap((variable) => {
    const { tag, path, description, unit, low, high, type, states } = variable;
    if (tag === undefined) return [];
    return [
      {
        name: tag,
        type: states ? 'state' : TYPES[type],
        unit,
        description: `${path.at(-1)!.toLowerCase()}, ${description}`,
        place: `${controller.place} / ${path.join(' / ')}`,
        low: states ? 0 : low,
        high: states ? states.length - 1 : high,
        ...(variable.writable ? { writable: true } : {}),
        ...(states ? { states: Object.fromEntries(states.map((state, i) => [String(i), state])) } : {}),
        collection: {
          source: controller.name,
          address: { node: nodeIdOf(variable) },
          intervalMilliseconds: 1000,
          aligned: false,
          deadband: { kind: 'none' },
          longestSilenceSeconds: 60,
        },
      },
    ];
  });
