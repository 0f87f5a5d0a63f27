/** Who is asking, and may they: signed cookies for people, keys for programs. */
import type { Scope, Session } from '@wide-ledger/contract';
import { parse } from 'cookie';
import { eq } from 'drizzle-orm';
import type { Request, RequestHandler } from 'express';
import { createHash } from 'node:crypto';
import { SignJWT, jwtVerify } from 'jose';
import type { Database } from '../../ground/index.ts';
import { accessKey } from '../../ground/index.ts';
import { ProblemError } from '../../ground/index.ts';
import { hashKey } from '../accounts/passwords.ts';

const SESSION_SECONDS = 12 * 3600;

const visitors = new WeakMap<Request, Session>();

/** The one who made a request that {@link Guard.needs} let pass. */
export function visitorOf(request: Request): Session {
  const visitor = visitors.get(request);
  if (!visitor) throw new Error('visitorOf was asked before the guard');
  return visitor;
}

/** Who makes a request: by the signed cookie of a session or by an access key, and with which scopes. */
export class Guard {
  /** Keys seen lately, so that a collector's hundred requests a second cost no query each. */
  private readonly knownKeys = new Map<string, { session: Session | null; until: number }>();

  /** The name of this site's cookie: a browser sends the cookies of all ports of a host to each of them. */
  readonly cookie: string;

  constructor(
    private readonly database: Database,
    private readonly secret: Uint8Array,
  ) {
    this.cookie = `wide_ledger_${createHash('sha256').update(secret).digest('hex').slice(0, 12)}`;
  }

  /** The signed token of a session, for its cookie. */
  sign(session: Session): Promise<string> {
    return new SignJWT({ scopes: session.scopes })
      .setProtectedHeader({ alg: 'HS256' })
      .setSubject(session.name)
      .setIssuedAt()
      .setExpirationTime(`${SESSION_SECONDS}s`)
      .sign(this.secret);
  }

  /** Lets a request pass whose visitor has the scope; 401 without a visitor, 403 without the scope. */
  needs(scope: Scope): RequestHandler {
    return async (request, _response, next) => {
      const visitor = await this.visitor(request);
      if (!visitor) {
        throw new ProblemError(401, 'Not signed in', 'Sign in first, or send a key as "Authorization: Bearer …".');
      }
      if (!visitor.scopes.includes(scope)) {
        throw new ProblemError(
          403,
          'Not allowed',
          `This needs the scope "${scope}"; ${visitor.name} has ${visitor.scopes.join(', ') || 'none'}.`,
        );
      }
      visitors.set(request, visitor);
      next();
    };
  }

  private async visitor(request: Request): Promise<Session | null> {
    const bearer = /^Bearer (\S+)$/.exec(request.headers.authorization ?? '');
    if (bearer) return this.byKey(bearer[1]!);
    const token = parse(request.headers.cookie ?? '')[this.cookie];
    if (!token) return null;
    try {
      const { payload } = await jwtVerify(token, this.secret, { algorithms: ['HS256'] });
      return { name: payload.sub ?? '', scopes: payload.scopes as Scope[] };
    } catch {
      return null;
    }
  }

  private async byKey(key: string): Promise<Session | null> {
    const keyHash = hashKey(key);
    const known = this.knownKeys.get(keyHash);
    if (known && known.until > performance.now()) return known.session;
    const [row] = await this.database.tables.select().from(accessKey).where(eq(accessKey.keyHash, keyHash));
    const session = row ? { name: `key ${row.name}`, scopes: row.scopes } : null;
    if (this.knownKeys.size > 1000) this.knownKeys.clear();
    this.knownKeys.set(keyHash, { session, until: performance.now() + 10_000 });
    return session;
  }
}
