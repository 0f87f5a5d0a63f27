/** Where an OPC UA server listens. */
import type { Place } from '../knock.ts';

/** OPC 10000-6, 7.1: registered with IANA. */
const DEFAULT_PORT = 4840;

export function placeOf(endpoint: string): Place {
  const { hostname, port } = new URL(endpoint.replace(/^opc\.tcp:/, 'http:'));
  return {
    host: hostname.replace(/^\[|\]$/g, ''),
    port: port === '' ? (/:80(\/|$)/.test(endpoint) ? 80 : DEFAULT_PORT) : Number(port),
  };
}
