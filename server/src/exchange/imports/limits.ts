/** How large a file may be that is brought in, on its way and unpacked. */
import { ProblemError } from '../../ground/index.ts';
import { Transform } from 'node:stream';
import unzipper from 'unzipper';

const MB = 1024 * 1024;
/** A year of thirty one-second tags as CSV. */
export const LARGEST_FILE = 2048 * MB;
/** A workbook is a packed archive: what is small on its way may be large on the disk. */
const LARGEST_UNPACKED = 1024 * MB;
export const MOST_COLUMNS = 5000;
/** Values that are looked at in one go: rows are taken by fewer where they are wide. */
const BATCH_VALUES = 50_000;
const MOST_BATCH_ROWS = 2000;
/** Cells that are read, or looked at, before others have their turn. */
export const CELLS_A_TURN = 2000;

/** Rows in one batch: a few milliseconds of work, so that the server stays quick, and a few megabytes. */
export const batchRowsFor = (columns: number): number =>
  Math.max(1, Math.min(MOST_BATCH_ROWS, Math.floor(BATCH_VALUES / Math.max(1, columns))));

/** Passes bytes on as long as they are not too many. */
export function withinLimit(most = LARGEST_FILE): Transform {
  let bytes = 0;
  return new Transform({
    transform(chunk: Buffer, _encoding, pass) {
      bytes += chunk.length;
      if (bytes <= most) pass(null, chunk);
      else
        pass(
          new ProblemError(413, 'Too much at once', `The file is larger than ${most / MB} MB. Bring it in in parts.`),
        );
    },
  });
}

/** @throws RangeError where an archive says that it unpacks to more than is taken. */
export async function checkUnpacked(path: string): Promise<void> {
  const { files } = await unzipper.Open.file(path);
  const bytes = files.reduce((sum, { uncompressedSize }) => sum + uncompressedSize, 0);
  if (bytes <= LARGEST_UNPACKED) return;
  throw new RangeError(
    `The workbook unpacks to ${Math.round(bytes / MB)} MB, and at most ${LARGEST_UNPACKED / MB} are taken. Save it in parts, or as CSV`,
  );
}
