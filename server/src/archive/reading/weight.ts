/** How large a reading is, before it is begun: small ones are not to wait behind large ones. Pure. */
import { isAboutCoverage } from '../coverage/answers.ts';
import { isAboutCompleteness } from '../coverage/completeness.ts';
import { isExamining } from './examining.ts';
import { isAboutFilled } from './filled.ts';
import type { AnyRequest } from './requests.ts';
import { isAboutSummaries } from './summaries.ts';
import { isAboutTallies } from './tallies.ts';

export type Weight = 'small' | 'large';

const DAY = 86_400_000_000;
/** Days of a tag, all tags of a reading together, from which on it is a large one: a second's work with summaries. */
const LARGE_TAG_DAYS = 500;
/** Intervals of all tags and aggregates together from which on it is large. */
const LARGE_CELLS = 50_000;
/** A window beyond which the coverage of all tags is a large reading. */
const LONG_COVERAGE = 40 * DAY;
const LARGE_TIMES = 5_000;
/** Days of a tag of which every sample is looked at. */
const LARGE_SAMPLE_DAYS = 32;

const tagDays = (tags: number, from: number, to: number): number => (tags * Math.abs(to - from)) / DAY;

/** Files and everything without a limit are large; so is what goes through much of the archive, or asks for much of it. */
export function weightOf(request: AnyRequest): Weight {
  if (isAboutCompleteness(request) || isExamining(request) || isAboutFilled(request) || isAboutSummaries(request))
    return 'large';
  if (isAboutTallies(request)) {
    const { from, to } = request.window;
    return request.by !== 'month' && tagDays(request.tags.length, from, to) > LARGE_SAMPLE_DAYS ? 'large' : 'small';
  }
  if (isAboutCoverage(request))
    return request.only === null && request.among === null && request.window.to - request.window.from > LONG_COVERAGE
      ? 'large'
      : 'small';
  const tags = request.tags.length;
  if (request.format !== 'json' && request.format !== 'csv') return 'large';
  switch (request.kind) {
    case 'raw':
      return request.limit === null ? 'large' : 'small';
    case 'at':
      return request.times.length * tags > LARGE_TIMES ? 'large' : 'small';
    case 'modified':
    case 'envelope':
      return tagDays(tags, request.from, request.to) > LARGE_TAG_DAYS ? 'large' : 'small';
    case 'processed':
    case 'computed': {
      const { from, to, interval } = request.cut;
      const length = interval.kind === 'fixed' && interval.micros > 0 ? interval.micros : DAY / 24;
      const rows = (Math.abs(to - from) / length) * tags;
      const cells = request.kind === 'processed' ? rows * request.aggregates.length : rows;
      return cells > LARGE_CELLS || tagDays(tags, from, to) > LARGE_TAG_DAYS ? 'large' : 'small';
    }
  }
}
