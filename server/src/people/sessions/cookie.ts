/** The cookie that names a session, signed. */
import { parse } from 'cookie';
import type { Request } from 'express';
import { createHash } from 'node:crypto';
import { SignJWT, jwtVerify } from 'jose';

export class SessionCookie {
  /** A browser sends the cookies of all ports of a host to each of them: each site's has a name of its own. */
  readonly name: string;

  constructor(private readonly secret: Uint8Array) {
    this.name = `wide_ledger_${createHash('sha256').update(secret).digest('hex').slice(0, 12)}`;
  }

  /** The signed token that names a session. @param ends when both end. */
  sign(session: string, ends: Date): Promise<string> {
    return new SignJWT({})
      .setProtectedHeader({ alg: 'HS256' })
      .setJti(session)
      .setIssuedAt()
      .setExpirationTime(ends)
      .sign(this.secret);
  }

  /** Whether a request brings the cookie. */
  isIn({ headers }: Request): boolean {
    return parse(headers.cookie ?? '')[this.name] !== undefined;
  }

  /** The session that a request's cookie names; null where there is none, or its signature is not ours. */
  async sessionIn({ headers }: Request): Promise<string | null> {
    const token = parse(headers.cookie ?? '')[this.name];
    if (token === undefined) return null;
    return jwtVerify(token, this.secret, { algorithms: ['HS256'] }).then(
      ({ payload }) => payload.jti ?? null,
      () => null,
    );
  }
}
