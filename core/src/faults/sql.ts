/** What a database says, by its SQLSTATE (ISO/IEC 9075-2; PostgreSQL's documentation, appendix A, error codes). */
import { Status } from '../status/codes.ts';
import type { Explanation } from './fault.ts';

const SAID: Readonly<Record<string, Explanation>> = {
  '28P01': { what: 'The password is wrong.', advice: 'Check user and password.' },
  '28000': { what: 'This user is not let in from here.', advice: 'Its administrator has to allow it.' },
  '3D000': { what: 'There is no such database.', advice: 'Check its name.' },
  '42P01': { what: 'There is no such table.', advice: 'Check the query, and in which schema the table lies.' },
  '42703': { what: 'There is no such column.', advice: 'Check the query and the columns’ names.' },
  '42601': { what: 'The query is no SQL.', advice: 'Try it; the position where it breaks is in the answer.' },
  '42501': { what: 'This user may not read that.', advice: 'Its administrator has to grant SELECT.' },
  '25006': {
    what: 'The query wants to change something.',
    advice: 'A source only reads: use a query that only selects.',
  },
  '57014': {
    what: 'The query took longer than it was given.',
    advice: 'Give the progress column an index, or raise the time-out.',
    status: Status.BadTimeout,
  },
  '57P01': { what: 'The database was shut down.', advice: 'It is tried again by itself.' },
  '57P03': { what: 'The database is starting, or ending.', advice: 'It is tried again by itself.' },
  '53300': {
    what: 'The database has no connection left.',
    advice: 'Its administrator has to allow more, or end some.',
  },
};

/** An answer of a database in words. @param said as the database has it. */
export function sqlFault(code: string, said: string): Required<Explanation> {
  const {
    what,
    advice,
    status = Status.BadCommunicationError,
  } = SAID[code] ?? {
    what: 'The database refuses.',
    advice: 'Its own words tell why.',
  };
  return { what: `${what} (${said.replace(/\.$/, '')}: ${code}.)`, advice, status };
}
