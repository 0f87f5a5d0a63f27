/** Files that were brought in, and what was understood of them, in the data folder until they are done. */
import type { ImportedFile } from '@wide-ledger/contract';
import { existsSync, mkdirSync, readFileSync, renameSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { notFound } from '../../ground/index.ts';
import type { FileKind } from './rows.ts';

/** A file as it is kept: how it stands is its job's to say. */
export interface KeptFile extends Omit<ImportedFile, 'state' | 'report'> {
  readonly kind: FileKind;
  readonly by: string;
  /** Rows in a batch; files that an earlier version took have none. */
  readonly batchRows?: number;
}

export class KeptFiles {
  private readonly folder: string;

  constructor(dataFolder: string) {
    this.folder = join(dataFolder, 'imports');
    mkdirSync(this.folder, { recursive: true });
  }

  /** @throws ProblemError 404 where that is no file's name. */
  pathOf(id: string, end: 'file' | 'json'): string {
    if (!/^[0-9a-f-]{36}$/.test(id)) throw notFound('There is no such file.');
    return join(this.folder, `${id}.${end}`);
  }

  /** @throws ProblemError 404 where there is no such file. */
  find(id: string): KeptFile {
    const path = this.pathOf(id, 'json');
    if (!existsSync(path)) throw notFound('There is no such file.');
    try {
      return JSON.parse(readFileSync(path, 'utf8')) as KeptFile;
    } catch {
      throw notFound('What was understood of this file cannot be read any more. Bring it in again.');
    }
  }

  /** Written beside and put in its place: a file that is there is whole. */
  keep(file: KeptFile): void {
    const path = this.pathOf(file.id, 'json');
    writeFileSync(`${path}.part`, JSON.stringify(file));
    renameSync(`${path}.part`, path);
  }
}
