/**
 * A site under load and under attack, for minutes: programs killed and frozen, a full disk, slow and hostile clients, at
 * random from a seed. In the end nothing acknowledged is lost or doubled, nobody had to start anything by hand, and memory
 * and open files are back where they were.
 */
import { setTimeout as wait } from 'node:timers/promises';
import { faultsOf, randomFrom } from './faults.ts';
import { Load } from './load.ts';
import { PASSWORD, PROGRAMS, SoakedSite } from './site.ts';

const minutes = Number(process.env.SOAK_MINUTES ?? 15);
const seed = Number(process.env.SOAK_SEED ?? Math.floor(Math.random() * 1e9));
/** Memory may settle above where it began by this much; files by so many. */
const MORE_MEGABYTES = 250;
const MORE_FILES = 60;

const site = await SoakedSite.make();
const wrong: string[] = [];

async function healthy(patience: number): Promise<boolean> {
  for (const end = performance.now() + patience; performance.now() < end; await wait(200)) {
    const answer = await fetch(`${site.url}/api/v1/health`, { signal: AbortSignal.timeout(5000) }).catch(() => null);
    if (answer?.ok) return true;
  }
  return false;
}

async function makeKey(): Promise<string> {
  const headers = { 'content-type': 'application/json' };
  const body = JSON.stringify({ name: 'admin', password: PASSWORD });
  const signedIn = await fetch(`${site.url}/api/v1/session`, { method: 'POST', headers, body });
  const cookie = signedIn.headers.getSetCookie()[0]!.split(';')[0]!;
  const made = await fetch(`${site.url}/api/v1/keys`, {
    method: 'POST',
    headers: { ...headers, cookie },
    body: JSON.stringify({ name: 'soak', scopes: ['read', 'write', 'collect', 'admin'] }),
  });
  return ((await made.json()) as { key: string }).key;
}

try {
  console.log(`\n${minutes} minutes, seed ${seed} (SOAK_MINUTES, SOAK_SEED)`);
  await site.start();
  if (!site.hasOwnDisk) console.log('No file system of its own could be mounted: the disk is not filled.');
  const key = await makeKey();
  const load = await Load.begin(site.url, key);
  // The past is being written in the first minute: what is in use after it is what is compared with.
  await wait(Math.min(60_000, minutes * 15_000));
  const before = PROGRAMS.map((program) => site.uses(program));
  const random = randomFrom(seed);
  const faults = faultsOf(site, key, random);
  const begun = performance.now();
  for (let round = 1; performance.now() - begun < minutes * 60_000; round++) {
    const fault = faults[Math.floor(random() * faults.length)]!;
    await fault.strike();
    const struck = performance.now();
    const well = await healthy(120_000);
    console.log(
      `  ${String(round).padStart(3)}  ${fault.name.padEnd(42)} ${well ? `well after ${((performance.now() - struck) / 1000).toFixed(1)} s` : 'NOT WELL'}`,
    );
    if (!well) wrong.push(`After "${fault.name}" the site was not well within two minutes.`);
    if (!site.isRunning) {
      wrong.push(`After "${fault.name}" the launcher had ended.`);
      break;
    }
    await wait(1000 + 4000 * random());
  }
  await load.end();
  if (!(await healthy(120_000))) wrong.push('In the end the site was not well.');
  wrong.push(...(await load.check()));
  // What was asked for has been answered; caches and collectors of garbage have had their time.
  await wait(30_000);
  PROGRAMS.forEach((program, i) => {
    const [{ megabytes, files }, now] = [before[i]!, site.uses(program)];
    console.log(`  ${program.padEnd(24)} ${megabytes} → ${now.megabytes} MB, ${files} → ${now.files} files`);
    if (now.megabytes > megabytes + MORE_MEGABYTES)
      wrong.push(`${program} holds ${now.megabytes} MB, at first ${megabytes}.`);
    if (now.files > files + MORE_FILES) wrong.push(`${program} has ${now.files} files open, at first ${files}.`);
  });
  const values = load.acknowledged.reduce((sum, one) => sum + one, 0) * 200;
  console.log(
    `  ${values.toLocaleString('en')} values acknowledged, ${load.reads} reads, ${load.turnedAway} turned away`,
  );
} catch (error) {
  wrong.push((error as Error).stack ?? String(error));
} finally {
  site.emptyDisk();
  await site.stop();
}
console.log(
  wrong.length === 0
    ? '\nNothing lost, nothing doubled, nothing left behind.'
    : `\nWRONG:\n  ${wrong.join('\n  ')}\nThe launcher said:\n${site.said.slice(-8000)}`,
);
process.exit(wrong.length === 0 ? 0 : 1);
