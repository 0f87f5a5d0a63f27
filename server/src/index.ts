/** The server of a site: what tests and the launcher may use of it. */
export { openSite, VERSION, type Site } from './site.ts';
export { readSettings, type Settings } from './ground/index.ts';
export { Journal, Posting } from './archive/index.ts';
