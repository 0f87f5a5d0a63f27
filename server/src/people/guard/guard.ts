/** Who is asking, and may they: signed cookies for people, keys for programs. */
import type { Request } from 'express';
import { ProblemError, type Admit } from '../../ground/index.ts';
import { hashKey } from '../accounts/passwords.ts';
import type { Keys } from '../keys/keys.ts';
import type { SessionCookie } from '../sessions/cookie.ts';
import type { Sessions } from '../sessions/sessions.ts';
import { noteVisitor, type Visitor } from '../visitors/visitor.ts';
import { refuseForeignOrigin } from './origin.ts';

/** Who makes a request: by the signed cookie of a session or by an access key, and with which scopes. */
export class Guard {
  constructor(
    private readonly sessions: Sessions,
    private readonly cookie: SessionCookie,
    private readonly keys: Keys,
  ) {}

  /** Lets a request pass whose visitor has the scope; 401 without a visitor, 403 without the scope. */
  readonly admit: Admit = async (request, scope) => {
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
    noteVisitor(request, visitor);
  };

  private async visitor(request: Request): Promise<Visitor | null> {
    const bearer = /^Bearer (\S+)$/.exec(request.headers.authorization ?? '');
    if (bearer) return this.keys.visitor(hashKey(bearer[1]!), request.ip ?? '');
    if (!this.cookie.isIn(request)) return null;
    refuseForeignOrigin(request);
    const session = await this.cookie.sessionIn(request);
    return session === null ? null : this.sessions.visitor(session);
  }
}
