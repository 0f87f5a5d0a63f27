/** The server of a site: what tests and the launcher may use of it. */
export { openSite, VERSION, type Site } from './site.ts';
export { readSettings, type Settings } from './settings.ts';
export { describeInterface } from './documents/openapi.ts';
export { Posting } from './ledger/posting.ts';
export { Journal } from './journal/journal.ts';
