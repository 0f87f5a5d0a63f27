/** Every setting of a server, validated once at start. They are listed in the README. */
import { IANAZone } from 'luxon';
import { z } from 'zod';

const port = z.coerce.number().int().min(1).max(65535);

/** A name of the time zone database that this machine knows. */
const zone = z.string().refine((name) => IANAZone.isValidZone(name), 'is no time zone, such as Europe/Berlin or UTC');

const settingsSchema = z.object({
  WIDE_LEDGER_PORT: port.default(4860),
  WIDE_LEDGER_HOST: z.string().default('127.0.0.1'),
  WIDE_LEDGER_DATA: z.string().default('.data'),
  WIDE_LEDGER_ADMIN_PASSWORD: z.string().min(8).optional(),
  // A role belongs to the whole cluster: sites that share one have a role each.
  WIDE_LEDGER_READER: z
    .string()
    .regex(/^[a-z_][a-z0-9_]{0,62}$/, 'is no name of a role: small letters, digits and underscores')
    .default('history_reader'),
  WIDE_LEDGER_READER_PASSWORD: z.string().min(8).optional(),
  WIDE_LEDGER_SITE: z.string().default('Site'),
  WIDE_LEDGER_ZONE: zone.default('UTC'),
  WIDE_LEDGER_BENCH_URL: z.url().optional(),
  WIDE_LEDGER_BENCH_TOKEN: z.string().default(''),
  WIDE_LEDGER_WEB: z.string().optional(),
  // Through which links call other sites; without: straight.
  WIDE_LEDGER_PROXY: z.url({ protocol: /^https?$/ }).optional(),
  WIDE_LEDGER_JOURNAL_DAYS: z.coerce.number().int().min(1).max(3650).default(14),
  // Below this much room the desk warns.
  WIDE_LEDGER_LEAST_FREE_MB: z.coerce.number().int().min(1).max(10_000_000).default(2048),
  WIDE_LEDGER_LOG: z.enum(['debug', 'info', 'warn', 'error', 'silent']).default('info'),
  DATABASE_URL: z.string().min(1),
});

export type Settings = z.infer<typeof settingsSchema>;

/** @throws Error with one line per wrong setting. */
export function readSettings(environment: NodeJS.ProcessEnv): Settings {
  const result = settingsSchema.safeParse(environment);
  if (result.success) return result.data;
  const lines = result.error.issues.map((issue) => `  ${issue.path.join('.')}: ${issue.message}`);
  throw new Error(`These settings are wrong:\n${lines.join('\n')}`);
}
