/** The demo as a person starts it, in a folder of its own, and its programs as the system sees them. */
import { spawn, spawnSync, type ChildProcess } from 'node:child_process';
import { mkdtempSync, readFileSync, readdirSync, rmSync, rmdirSync, statfsSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { setTimeout as wait } from 'node:timers/promises';
import { DEVICE_PORTS, ROOT, freePort, freePorts } from '../launch/ground.mjs';

export const PASSWORD = 'only-for-soaking';
export const PROGRAMS = ['server/dist/main.mjs', 'collector/dist/main.mjs', 'bench/dist/main.mjs', 'postgres'] as const;
export type ProgramName = (typeof PROGRAMS)[number];

/** Room of the data's own file system, where one can be made. */
const DISK_MEGABYTES = 3000;

export class SoakedSite {
  said = '';
  private launcher: ChildProcess | null = null;
  private ballast: string | null = null;

  private constructor(
    private readonly folder: string,
    /** Whether the data have a file system of their own, which can be filled. */
    readonly hasOwnDisk: boolean,
    readonly url: string,
    private readonly environment: NodeJS.ProcessEnv,
  ) {}

  static async make(): Promise<SoakedSite> {
    const folder = mkdtempSync(join(tmpdir(), 'wide-ledger-soak-'));
    const mounted = spawnSync('mount', ['-t', 'tmpfs', '-o', `size=${DISK_MEGABYTES}m`, 'tmpfs', folder]).status === 0;
    const [port, databasePort, benchPort, devicePort] = [
      await freePort(),
      await freePort(),
      await freePort(),
      await freePorts(DEVICE_PORTS),
    ];
    return new SoakedSite(folder, mounted, `http://127.0.0.1:${port}`, {
      ...process.env,
      WIDE_LEDGER_DATA: join(folder, 'data'),
      WIDE_LEDGER_PORT: String(port),
      WIDE_LEDGER_DATABASE_PORT: String(databasePort),
      WIDE_LEDGER_BENCH_PORT: String(benchPort),
      WIDE_LEDGER_DEVICE_PORT: String(devicePort),
      WIDE_LEDGER_NEIGHBOURS: 'none',
      WIDE_LEDGER_ADMIN_PASSWORD: PASSWORD,
      WIDE_LEDGER_READER_PASSWORD: PASSWORD,
      WIDE_LEDGER_LOG: 'error',
    });
  }

  async start(): Promise<void> {
    const launcher = spawn(process.execPath, [join(ROOT, 'launch/start.mjs')], {
      cwd: ROOT,
      env: this.environment,
      stdio: ['ignore', 'pipe', 'pipe'],
    });
    for (const stream of [launcher.stdout, launcher.stderr])
      stream.on('data', (part) => (this.said = (this.said + String(part)).slice(-20_000)));
    this.launcher = launcher;
    for (const end = performance.now() + 180_000; !this.said.includes('Wide Ledger is ready'); await wait(200)) {
      if (performance.now() > end || launcher.exitCode !== null) throw new Error(`It did not start: ${this.said}`);
    }
  }

  /** Whether the launcher still runs: nobody but it starts anything again. */
  get isRunning(): boolean {
    return this.launcher !== null && this.launcher.exitCode === null && this.launcher.signalCode === null;
  }

  /** The process of a program; null while there is none. */
  pid(name: ProgramName): number | null {
    const { pid } = this.launcher!;
    const children = readFileSync(`/proc/${pid}/task/${pid}/children`, 'utf8').trim().split(' ').filter(Boolean);
    const found = children.find((child) => {
      try {
        return readFileSync(`/proc/${child}/cmdline`, 'utf8').includes(name);
      } catch {
        return false;
      }
    });
    return found ? Number(found) : null;
  }

  signal(name: ProgramName, signal: NodeJS.Signals): void {
    const pid = this.pid(name);
    if (pid === null) return;
    try {
      process.kill(pid, signal);
    } catch {
      // It ended at this moment.
    }
  }

  /** Leaves no room on the data's disk, but for a few kilobytes. */
  fillDisk(): void {
    this.ballast = join(this.folder, 'ballast');
    const { bavail, bsize } = statfsSync(this.folder);
    spawnSync('fallocate', ['-l', String(Math.max(1, bavail - 4) * bsize), this.ballast]);
    for (let part = 0; part < 64; part++) {
      try {
        writeFileSync(`${this.ballast}${part}`, Buffer.alloc(4096));
      } catch {
        return;
      }
    }
  }

  emptyDisk(): void {
    if (this.ballast === null) return;
    for (const name of readdirSync(this.folder)) if (name.startsWith('ballast')) rmSync(join(this.folder, name));
    this.ballast = null;
  }

  /** Resident memory in megabytes and open files of a program. */
  uses(name: ProgramName): { readonly megabytes: number; readonly files: number } {
    const pid = this.pid(name);
    if (pid === null) return { megabytes: 0, files: 0 };
    const status = readFileSync(`/proc/${pid}/status`, 'utf8');
    return {
      megabytes: Math.round(Number(/VmRSS:\s+(\d+)/.exec(status)?.[1] ?? 0) / 1024),
      files: readdirSync(`/proc/${pid}/fd`).length,
    };
  }

  async stop(): Promise<void> {
    const { launcher } = this;
    if (launcher && this.isRunning) {
      const ended = new Promise((done) => launcher.once('exit', done));
      launcher.kill('SIGTERM');
      await ended;
    }
    if (this.hasOwnDisk) spawnSync('umount', ['-l', this.folder]);
    else rmSync(this.folder, { recursive: true, force: true });
    try {
      rmdirSync(this.folder);
    } catch {
      // Gone, or still in use for a moment.
    }
  }
}
