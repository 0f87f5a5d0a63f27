/** The protocol's library, told to be silent before it is loaded: what matters is shown on the Bench screen. */
import { createRequire } from 'node:module';
import type * as Library from 'node-opcua';
import type * as Logging from 'node-opcua-debug';

export type OpcUa = typeof Library;

export function opcUaLibrary(): OpcUa {
  // It is a CommonJS package, and loaders differ in where they put such a one's names.
  const require = createRequire(import.meta.url);
  const { setErrorLogger, setWarningLogger } = require('node-opcua-debug') as typeof Logging;
  setErrorLogger(() => undefined);
  setWarningLogger(() => undefined);
  return require('node-opcua') as OpcUa;
}
