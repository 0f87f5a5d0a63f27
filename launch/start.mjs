/** `npm start`: the demo, from whatever state the machine is in. */
import { setInterval } from 'node:timers';
import { tellTrouble } from './ground.mjs';
import { ensureNodePackages } from './packages.mjs';

await tellTrouble(async () => {
  let demo = null;
  let stopping = false;
  const end = async (code) => {
    if (stopping) return;
    stopping = true;
    console.log('\nStopping …');
    // What is being started at this moment ends with this process.
    await demo?.stop();
    process.exit(code);
  };
  // From the beginning on: whoever starts it may change their mind, or close the terminal.
  for (const signal of ['SIGINT', 'SIGTERM', 'SIGHUP']) process.on(signal, () => void end(0));
  endWithNpm(end);

  ensureNodePackages();
  const { demoSettings, forgetDemo, startDemo } = await import('./demo.mjs');
  const settings = demoSettings();
  if (process.argv.includes('--fresh')) forgetDemo(settings);
  const started = performance.now();
  demo = await startDemo(settings, console.log);
  const seconds = ((performance.now() - started) / 1000).toFixed(1);
  const sql = new URL(demo.databaseUrl);
  console.log(`
Wide Ledger is ready (${seconds} s).

  open      ${demo.url}
  user      admin
  password  ${process.env.WIDE_LEDGER_ADMIN_PASSWORD ? 'as set in WIDE_LEDGER_ADMIN_PASSWORD' : settings.password}
${demo.neighbours.map(({ name, url }) => `  ${name.padEnd(26)}${url}\n`).join('')}  SQL       psql "postgres://history_reader:${process.env.WIDE_LEDGER_READER_PASSWORD ? '…' : settings.readerPassword}@${sql.host}${sql.pathname}"

Ctrl+C stops everything. "npm start -- --fresh" starts over.`);
});

/** npm, killed, tells nobody: then somebody else is the parent. */
function endWithNpm(end) {
  if (!process.env.npm_lifecycle_event) return;
  const parent = process.ppid;
  setInterval(() => {
    if (process.ppid !== parent) void end(0);
  }, 1000).unref();
}
