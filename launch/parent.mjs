/** Children that end when their parent does, however that ended. */
import { existsSync } from 'node:fs';

/** Of Debian's util-linux, which every system has. */
const SETPRIV = '/usr/bin/setpriv';

/**
 * A command that gets a signal when the process that started it is gone, even killed: nothing is left holding ports.
 * Where the system cannot do that (it is Linux's), the command as it is.
 * @returns the program and its arguments.
 */
export const endingWithParent = (signal, program, args) =>
  existsSync(SETPRIV) ? [SETPRIV, ['--pdeathsig', signal, program, ...args]] : [program, args];
