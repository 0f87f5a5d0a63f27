/** A test environment in which typed arrays are those of Node itself: libraries compare them with the buffers that Node makes. */
import { TestEnvironment } from 'jest-environment-node';

const ARRAYS = [
  'Int8Array',
  'Int16Array',
  'Uint16Array',
  'Int32Array',
  'Uint32Array',
  'Float32Array',
  'Float64Array',
  'BigInt64Array',
  'BigUint64Array',
];

export default class OneRealm extends TestEnvironment {
  async setup() {
    await super.setup();
    for (const name of ARRAYS) this.global[name] = globalThis[name];
  }
}
