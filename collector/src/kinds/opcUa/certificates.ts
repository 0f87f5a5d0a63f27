/** The collector's own certificate for OPC UA, made at first use, and the fingerprints of others'. */
import { X509Certificate } from 'node:crypto';
import { existsSync, readFileSync, rmSync } from 'node:fs';
import { hostname } from 'node:os';
import { join } from 'node:path';
import type { OPCUACertificateManager } from 'node-opcua-certificate-manager';
import type { OpcUa } from './library.ts';

/** How the collector names itself to servers. */
export const APPLICATION_URI = 'urn:wide-ledger:collector';
export const APPLICATION_NAME = 'Wide Ledger collector';

const VALID_DAYS = 3 * 365;
/** A new one is made this long before the old one ends. */
const RENEWED_DAYS_BEFORE = 60;
const DAY = 86_400_000;

export interface OwnCertificate {
  readonly manager: OPCUACertificateManager;
  readonly certificateFile: string;
  readonly privateKeyFile: string;
}

const made = new Map<string, Promise<OwnCertificate>>();

/** SHA-1 of a certificate, in capital hexadecimal digits: the thumbprint of OPC 10000-6, 6.2.2. */
export const fingerprintOf = (certificate: Uint8Array): string =>
  new X509Certificate(certificate).fingerprint.replaceAll(':', '');

/** Who a certificate is for and until when, in words. */
export function certificateWords(certificate: Uint8Array): string {
  const { subject, validTo } = new X509Certificate(certificate);
  const name = /CN=([^\n]+)/.exec(subject)?.[1] ?? subject.replaceAll('\n', ', ');
  return `${name}, valid until ${new Date(validTo).toISOString().slice(0, 10)}`;
}

/** A fingerprint as people compare it. */
export const inPairs = (fingerprint: string): string => fingerprint.replace(/..(?=.)/g, '$& ');

/** The certificate of the collector whose folder this is. One that is about to end is replaced. */
export async function ownCertificate(library: OpcUa, folder: string): Promise<OwnCertificate> {
  const known = await made.get(folder);
  if (known && isLasting(known.certificateFile)) return known;
  const making = make(library, join(folder, 'certificates')).catch((error: unknown) => {
    made.delete(folder);
    throw error;
  });
  made.set(folder, making);
  return making;
}

/** The certificate itself, in DER. */
export const derOf = ({ certificateFile }: OwnCertificate): Uint8Array =>
  new X509Certificate(readFileSync(certificateFile)).raw;

async function make(library: OpcUa, rootFolder: string): Promise<OwnCertificate> {
  const manager = new library.OPCUACertificateManager({
    rootFolder,
    // Whom to trust is said by the configuration, which is looked at before.
    automaticallyAcceptUnknownCertificate: true,
  });
  await manager.initialize();
  const certificateFile = join(rootFolder, 'own.pem');
  if (!isLasting(certificateFile)) {
    rmSync(certificateFile, { force: true });
    await manager.createSelfSignedCertificate({
      applicationUri: APPLICATION_URI,
      dns: [hostname()],
      outputFile: certificateFile,
      startDate: new Date(Date.now() - DAY),
      subject: `/CN=${APPLICATION_NAME}/O=Wide Ledger`,
      validity: VALID_DAYS,
    });
  }
  return { manager, certificateFile, privateKeyFile: manager.privateKey };
}

/** Whether a certificate is there and is not about to end. */
const isLasting = (file: string): boolean =>
  existsSync(file) &&
  Date.parse(new X509Certificate(readFileSync(file)).validTo) > Date.now() + RENEWED_DAYS_BEFORE * DAY;
