/** What has to be on the machine: npm packages and Debian's. Plain JavaScript: it runs before anything is installed. */
import { spawnSync } from 'node:child_process';
import { existsSync, readFileSync, readdirSync, writeFileSync } from 'node:fs';
import { createHash } from 'node:crypto';
import { join } from 'node:path';
import { ROOT, Trouble } from './ground.mjs';

function run(command, args, environment = {}) {
  const { status } = spawnSync(command, args, { cwd: ROOT, stdio: 'inherit', env: { ...process.env, ...environment } });
  return status === 0;
}

/** Installs the npm packages when the lock file is not the one they were installed from. */
export function ensureNodePackages() {
  const lock = createHash('sha256')
    .update(readFileSync(join(ROOT, 'package-lock.json')))
    .digest('hex');
  const note = join(ROOT, 'node_modules', '.wide-ledger-lock');
  if (existsSync(note) && readFileSync(note, 'utf8') === lock) return;
  console.log('Installing the npm packages (a minute or so) …');
  if (!run('npm', ['install', '--no-audit', '--no-fund', '--prefer-offline', '--loglevel=error'])) {
    throw new Trouble(
      'The npm packages could not be installed. The lines above say why; check the way to the npm registry and start again.',
    );
  }
  const installed = createHash('sha256')
    .update(readFileSync(join(ROOT, 'package-lock.json')))
    .digest('hex');
  writeFileSync(note, installed);
}

const mayInstall = () => process.getuid?.() === 0 && existsSync('/usr/bin/apt-get');

function installDebian(packages) {
  if (!mayInstall()) {
    throw new Trouble(
      `Missing on this machine: ${packages.join(', ')}. Install with\n  sudo apt-get install -y --no-install-recommends ${packages.join(' ')}\nand start again.`,
    );
  }
  console.log(`Installing ${packages.join(', ')} from Debian's packages …`);
  const quiet = { DEBIAN_FRONTEND: 'noninteractive' };
  run('apt-get', ['update', '-q=2'], quiet);
  if (!run('apt-get', ['install', '-y', '-q=2', '--no-install-recommends', ...packages], quiet)) {
    throw new Trouble(`apt-get could not install ${packages.join(', ')}. The lines above say why.`);
  }
}

/** The folder of the newest PostgreSQL's programs, or null. */
function findPostgres() {
  const base = '/usr/lib/postgresql';
  if (!existsSync(base)) return null;
  const versions = readdirSync(base).filter((version) => existsSync(join(base, version, 'bin', 'postgres')));
  versions.sort((a, b) => Number(b) - Number(a));
  return versions.length > 0 ? join(base, versions[0], 'bin') : null;
}

/** @returns the folder of PostgreSQL's programs, installing them where they are missing. */
export function ensurePostgres() {
  const found = findPostgres();
  if (found) return found;
  installDebian(['postgresql']);
  const installed = findPostgres();
  if (!installed) throw new Trouble('PostgreSQL was installed but its programs are not in /usr/lib/postgresql.');
  return installed;
}

/** A Modbus device of another make, which the collector is tested against. */
export function ensureModbusPeer() {
  const modules = ['pymodbus', 'serial_asyncio'].map((name) => `/usr/lib/python3/dist-packages/${name}`);
  if (!modules.every((path) => existsSync(path))) installDebian(['python3-pymodbus', 'python3-serial-asyncio']);
}

/** The broker of the test bench, and clients of its make, which the collector is tested against. */
export function ensureBroker() {
  const missing = [
    ['/usr/sbin/mosquitto', 'mosquitto'],
    ['/usr/bin/mosquitto_pub', 'mosquitto-clients'],
  ].filter(([path]) => !existsSync(path));
  if (missing.length > 0) installDebian(missing.map(([, name]) => name));
}

/** Chromium and ChromeDriver, for the browser tests and the pictures. */
export function ensureBrowser() {
  const missing = [
    ['/usr/bin/chromium', 'chromium'],
    ['/usr/bin/chromedriver', 'chromium-driver'],
  ].filter(([path]) => !existsSync(path));
  if (missing.length > 0) installDebian(missing.map(([, name]) => name));
}
