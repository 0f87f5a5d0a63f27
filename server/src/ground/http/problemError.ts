/** An error as RFC 9457 has them: what is wrong, where, what to do. */

/** An error meant for the one who asked: what is wrong, where, what to do. */
export class ProblemError extends Error {
  constructor(
    readonly status: number,
    readonly title: string,
    detail: string,
    readonly code?: string,
  ) {
    super(detail);
    this.name = 'ProblemError';
  }
}

/** 400 with a sentence that says what, where, and what to do. @param code short and stable, for programs. */
export const badRequest = (detail: string, code?: string): ProblemError =>
  new ProblemError(400, 'This request cannot be answered', detail, code);
/** 404 with a sentence. */
export const notFound = (detail: string): ProblemError => new ProblemError(404, 'Not found', detail);
