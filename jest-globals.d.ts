/** Jest's globals with the types of `@jest/globals`. */
import type * as jest from '@jest/globals';

declare global {
  const describe: typeof jest.describe;
  const test: typeof jest.test;
  const expect: typeof jest.expect;
  const beforeAll: typeof jest.beforeAll;
  const afterAll: typeof jest.afterAll;
  const beforeEach: typeof jest.beforeEach;
  const afterEach: typeof jest.afterEach;
}
