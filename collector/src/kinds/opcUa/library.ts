/** The protocol's library, as far as a client needs it, loaded when the first source of this kind is met: it takes a second. */
import { createRequire } from 'node:module';
import type * as Certificates from 'node-opcua-certificate-manager';
import type * as Client from 'node-opcua-client';
import type * as Logging from 'node-opcua-debug';
import type * as Ranges from 'node-opcua-numeric-range';

export type OpcUa = typeof Client &
  Pick<typeof Certificates, 'OPCUACertificateManager'> &
  Pick<typeof Ranges, 'NumericRange'>;

let loaded: OpcUa | null = null;

export function opcUaLibrary(): OpcUa {
  if (loaded) return loaded;
  // They are CommonJS packages, and loaders differ in where they put such a one's names.
  const require = createRequire(import.meta.url);
  const { setErrorLogger, setWarningLogger } = require('node-opcua-debug') as typeof Logging;
  // Before the library itself is loaded: what it has to say is said by our own sentences.
  setErrorLogger(() => undefined);
  setWarningLogger(() => undefined);
  const { OPCUACertificateManager } = require('node-opcua-certificate-manager') as typeof Certificates;
  const { NumericRange } = require('node-opcua-numeric-range') as typeof Ranges;
  loaded = { ...(require('node-opcua-client') as typeof Client), OPCUACertificateManager, NumericRange };
  return loaded;
}
