/** Every setting of the test bench, validated once at start. */
import { z } from 'zod';

const port = z.coerce.number().int().min(1).max(65535);

const settingsSchema = z.object({
  WIDE_LEDGER_BENCH_PORT: port.default(4870),
  // Without one nobody gets at the switchboard.
  WIDE_LEDGER_BENCH_TOKEN: z.string().min(16).optional(),
  WIDE_LEDGER_DEVICE_PORT: port.default(4871),
  // Where the region's site listens; without it there are no lines to it.
  WIDE_LEDGER_REGION_PORT: port.optional(),
  // Where Kilnbank's recorder and its boiler log write; without them they do not.
  WIDE_LEDGER_RECORDER_FOLDER: z.string().optional(),
  WIDE_LEDGER_LOGGER_URL: z.string().optional(),
  WIDE_LEDGER_LOGGER_PASSWORD: z.string().default(''),
  WIDE_LEDGER_DATA: z.string().default('.data'),
  WIDE_LEDGER_SERVER: z.url().default('http://127.0.0.1:4860'),
  WIDE_LEDGER_KEY: z.string().default(''),
  WIDE_LEDGER_COLLECTOR: z.string().default('collector-1'),
});

/** @throws Error with one line per wrong setting. */
export function readSettings(environment: NodeJS.ProcessEnv): z.infer<typeof settingsSchema> {
  const result = settingsSchema.safeParse(environment);
  if (result.success) return result.data;
  throw new Error(
    `These settings are wrong:\n${result.error.issues.map((issue) => `  ${issue.path.join('.')}: ${issue.message}`).join('\n')}`,
  );
}
