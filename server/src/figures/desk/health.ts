import { health } from '@wide-ledger/contract';
import type { Archive } from '../../archive/index.ts';
import { Calls, type Database } from '../../ground/index.ts';

/** For whoever watches the server from outside: no sign-in, no figures, 503 as soon as one check fails. */
export function healthCalls({ pool }: Database, { posting, deriving }: Archive, version: string): Calls {
  const calls = new Calls();
  calls.on(
    { method: 'get', path: '/health', needs: null, says: 'Whether the site works; 503 when not', answer: health },
    async (_request, response) => {
      const attempt = async (sql: string): Promise<string> => {
        try {
          await pool.query(sql);
          return 'ok';
        } catch (error) {
          return `failing: ${(error as Error).message}`;
        }
      };
      const [database, journal] = await Promise.all([
        attempt('SELECT 1'),
        attempt('SELECT 1 FROM journal_entry LIMIT 1'),
      ]);
      const told = (trouble: string | null): string => (trouble === null ? 'ok' : `failing: ${trouble}`);
      const checks = { database, journal, posting: told(posting.trouble), deriving: told(deriving.trouble) };
      const well = Object.values(checks).every((check) => check === 'ok');
      response.status(well ? 200 : 503).json({ status: well ? 'ok' : 'failing', version, checks });
    },
  );
  return calls;
}
