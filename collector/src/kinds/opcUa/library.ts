/** The protocol's library, loaded when the first source of this kind is met: it takes a second. */
import { createRequire } from 'node:module';
import type * as Library from 'node-opcua';
import type * as Logging from 'node-opcua-debug';

export type OpcUa = typeof Library;

let loaded: OpcUa | null = null;

export function opcUaLibrary(): OpcUa {
  if (loaded) return loaded;
  // It is a CommonJS package, and loaders differ in where they put such a one's names.
  const require = createRequire(import.meta.url);
  const { setErrorLogger, setWarningLogger } = require('node-opcua-debug') as typeof Logging;
  // Before the library itself is loaded: what it has to say is said by our own sentences.
  setErrorLogger(() => undefined);
  setWarningLogger(() => undefined);
  loaded = require('node-opcua') as OpcUa;
  return loaded;
}
