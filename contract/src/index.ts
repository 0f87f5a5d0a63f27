/** Everything that crosses a process boundary, as Zod schemas and the types that follow from them. */
export * from './common.ts';
export * from './access.ts';
export * from './kinds/index.ts';
export * from './sources.ts';
export * from './tags.ts';
export * from './history.ts';
export * from './stores.ts';
export * from './configuration/bodies.ts';
export * from './configuration/drafts.ts';
export * from './configuration/titles.ts';
export * from './imports.ts';
export * from './coverage.ts';
export * from './secrets.ts';
export * from './questions.ts';
export * from './collector.ts';
export * from './desk.ts';
export * from './logbook.ts';
