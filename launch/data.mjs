/** The data folder: what Wide Ledger keeps in it, for its owner alone, and deleting it only where it is Wide Ledger's. */
import { chmodSync, existsSync, mkdirSync, readdirSync, rmSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { Trouble } from './ground.mjs';
import { clusterFolder } from './postgres.mjs';

const MARKER = '.wide-ledger';
/** Everything that the programs keep at the top of the folder. */
const OWN = [
  MARKER,
  'bench',
  'boiler-log.key',
  'cluster',
  'collector',
  'database.key',
  'imports',
  'keys.json',
  'past.json',
  'restarts.json',
  'seal.key',
  'session.key',
  'sites',
];

/** What there is in the folder that Wide Ledger did not put there. */
const foreignIn = (folder) => readdirSync(folder).filter((name) => !OWN.includes(name));

/** Whether a folder is Wide Ledger's: new, or marked, or with the database's key of a version that did not mark it. */
const isOwn = (folder) =>
  readdirSync(folder).length === 0 || [MARKER, 'database.key'].some((name) => existsSync(join(folder, name)));

/**
 * Makes the folder where there is none, readable by its owner only, and marks it. One that is somebody else's as well,
 * such as that for temporary files, is used as it is.
 */
export function prepareData(folder) {
  mkdirSync(folder, { recursive: true });
  if (!isOwn(folder) || foreignIn(folder).length > 0) return;
  // Of root's folder the cluster's own user has to pass through, though it reads nothing else in it.
  chmodSync(folder, process.getuid?.() === 0 ? 0o711 : 0o700);
  if (!existsSync(join(folder, MARKER))) {
    writeFileSync(join(folder, MARKER), 'What Wide Ledger keeps. "npm start -- --fresh" deletes this folder.\n');
  }
}

/** Forgets everything that was kept. @throws Trouble where the folder, or something in it, is not Wide Ledger's. */
export function forgetData(folder) {
  if (existsSync(folder)) {
    const foreign = foreignIn(folder);
    if (foreign.length > 0) {
      throw new Trouble(
        `${folder} is not deleted: it holds ${foreign.slice(0, 3).join(', ')}, which Wide Ledger did not put there. Take that out, or set WIDE_LEDGER_DATA to another folder.`,
      );
    }
    if (!isOwn(folder)) {
      throw new Trouble(
        `${folder} is not deleted: nothing in it says that it is Wide Ledger's. Delete it yourself if it is, or set WIDE_LEDGER_DATA to another folder.`,
      );
    }
  }
  rmSync(clusterFolder(folder), { recursive: true, force: true });
  rmSync(folder, { recursive: true, force: true });
}
