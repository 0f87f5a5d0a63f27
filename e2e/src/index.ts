/** Tests of the whole: real processes and the real interface, in `test/`. */
export { openDemo, type OpenDemo } from './openDemo.ts';
export { SITE_PASSWORD, openSites, type OpenSites } from './openSites.ts';
export {
  WAIT_MILLISECONDS,
  attribute,
  eventually,
  find,
  go,
  press,
  pressUntil,
  textOf,
  textsOf,
  violations,
  visit,
} from './visit.ts';
