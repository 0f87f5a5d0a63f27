/** Every setting of a collector, validated once at start. */
import { join, resolve } from 'node:path';
import { z } from 'zod';

const settingsSchema = z.object({
  WIDE_LEDGER_SERVER: z.url().default('http://127.0.0.1:4860'),
  WIDE_LEDGER_KEY: z.string().min(1, 'a key with the scope "collect" is needed'),
  WIDE_LEDGER_COLLECTOR: z.string().min(1).max(80).default('collector-1'),
  WIDE_LEDGER_COLLECTOR_DATA: z.string().default('.data/collector'),
  /** Folders whose files it may read as sources, parted by colons; without: one of its own, among its data. */
  WIDE_LEDGER_COLLECTOR_FOLDERS: z.string().default(''),
  WIDE_LEDGER_LOG: z.enum(['debug', 'info', 'warn', 'error', 'silent']).default('info'),
});
export type Settings = z.infer<typeof settingsSchema>;

/** @throws Error with one line per wrong setting. */
export function readSettings(environment: NodeJS.ProcessEnv): Settings {
  const result = settingsSchema.safeParse(environment);
  if (result.success) return result.data;
  throw new Error(
    `These settings are wrong:\n${result.error.issues.map((issue) => `  ${issue.path.join('.')}: ${issue.message}`).join('\n')}`,
  );
}

/** Folders whose files a collector may read as sources. */
export function readableFolders({
  WIDE_LEDGER_COLLECTOR_FOLDERS: folders,
  WIDE_LEDGER_COLLECTOR_DATA: data,
}: Settings): readonly string[] {
  const named = folders.split(':').filter((folder) => folder !== '');
  return (named.length > 0 ? named : [join(data, 'inbox')]).map((folder) => resolve(folder));
}
