import { SCOPES } from '@wide-ledger/contract';
import { eq } from 'drizzle-orm';
import { account, type Database } from '../../ground/index.ts';
import { hashPassword, verifyPassword } from './passwords.ts';

/** Creates the administrator, or gives an existing one the password that the settings name. */
export async function prepareAdministrator({ tables }: Database, password: string): Promise<void> {
  const [known] = await tables.select().from(account).where(eq(account.name, 'admin'));
  if (!known) {
    await tables
      .insert(account)
      .values({ name: 'admin', passwordHash: await hashPassword(password), scopes: [...SCOPES] });
  } else if (!(await verifyPassword(known.passwordHash, password))) {
    await tables
      .update(account)
      .set({ passwordHash: await hashPassword(password) })
      .where(eq(account.id, known.id));
  }
}
