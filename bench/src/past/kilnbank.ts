/** Kilnbank in the demo: the source, and the tags that are kept of it. Its past begins when it is brought in. */
import { nodeIdOf } from '../devices/opcua/opcUaDevice.ts';
import { KILNBANK } from '../plant/kilnbank/controller.ts';
import type { Variable } from '../plant/kilnbank/variables.ts';

/** The source as the server takes it. @param port of its line. */
export const kilnbankSource = (port: number): object => ({
  name: KILNBANK.name,
  kind: 'opc-ua',
  connection: { endpoint: `opc.tcp://127.0.0.1:${port}` },
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
export const kilnbankTags = (): object[] =>
  KILNBANK.variables.flatMap((variable) => {
    const { tag, path, description, unit, low, high, type, states } = variable;
    if (tag === undefined) return [];
    return [
      {
        name: tag,
        type: states ? 'state' : TYPES[type],
        unit,
        description: `${path.at(-1)!.toLowerCase()}, ${description}`,
        place: `${KILNBANK.place} / ${path.join(' / ')}`,
        low: states ? 0 : low,
        high: states ? states.length - 1 : high,
        ...(states ? { states: Object.fromEntries(states.map((state, i) => [String(i), state])) } : {}),
        collection: {
          source: KILNBANK.name,
          address: { node: nodeIdOf(variable) },
          intervalMilliseconds: 1000,
          aligned: false,
          deadband: { kind: 'none' },
          longestSilenceSeconds: 60,
        },
      },
    ];
  });
