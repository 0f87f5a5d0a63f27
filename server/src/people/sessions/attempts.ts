/** Slowing down who tries passwords: by name and address, so that a stranger elsewhere does not lock out the right person. */
import type { Request, Response } from 'express';
import { ipKeyGenerator, rateLimit, type RateLimitRequestHandler } from 'express-rate-limit';
import { ProblemError } from '../../ground/index.ts';

const MINUTE = 60_000;
/** Wrong attempts a minute for one name from one address, and for any names from one address. */
const FOR_ONE_NAME = 10;
const FROM_ONE_ADDRESS = 60;

const limiter = (limit: number, keyGenerator: (request: Request) => string): RateLimitRequestHandler =>
  rateLimit({
    windowMs: MINUTE,
    limit,
    keyGenerator,
    skipSuccessfulRequests: true,
    standardHeaders: 'draft-8',
    legacyHeaders: false,
    handler: (_request, _response, next) =>
      next(
        new ProblemError(
          429,
          'Too many attempts',
          'Too many wrong sign-ins within a minute. Wait a minute and try again.',
        ),
      ),
  });

const addressOf = (request: Request): string => ipKeyGenerator(request.ip ?? '');

/** @throws ProblemError 429 when somebody has been wrong too often. */
export function slowingDown(): (request: Request, response: Response, name: string) => Promise<void> {
  const names = new WeakMap<Request, string>();
  const limiters = [
    limiter(FROM_ONE_ADDRESS, addressOf),
    limiter(FOR_ONE_NAME, (request) => `${names.get(request)!.toLowerCase()} ${addressOf(request)}`),
  ];
  return async (request, response, name) => {
    names.set(request, name);
    for (const one of limiters) {
      await new Promise<void>((done, fail) => {
        void one(request, response, (error?: unknown) => (error instanceof Error ? fail(error) : done()));
      });
    }
  };
}
