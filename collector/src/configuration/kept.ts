/** The configuration as a collector keeps it on its disk: readable, but for its secrets, which are sealed. */
import { collectorConfiguration, type CollectorConfiguration } from '@wide-ledger/contract';
import type { Seal } from '@wide-ledger/vault';

/** As a text to be kept. */
export function closeKept(configuration: CollectorConfiguration, seal: Seal): string {
  const secrets = Object.entries(configuration.secrets).map(([id, secret]) => [id, seal.close(secret)]);
  return JSON.stringify({ ...configuration, secrets: Object.fromEntries(secrets) as Record<string, string> });
}

/** What was kept; null where it cannot be read: a disk that was full leaves empty files, another version other ones. */
export function openKept(text: string, seal: Seal): CollectorConfiguration | null {
  try {
    const { secrets, ...rest } = collectorConfiguration.parse(JSON.parse(text));
    const opened = Object.entries(secrets).map(([id, sealed]) => [id, seal.open(sealed)]);
    return { ...rest, secrets: Object.fromEntries(opened) as Record<string, string> };
  } catch {
    return null;
  }
}
