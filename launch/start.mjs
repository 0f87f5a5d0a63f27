/** `npm start`: the demo, from whatever state the machine is in. */
import { tellTrouble } from './ground.mjs';
import { ensureNodePackages } from './packages.mjs';

await tellTrouble(async () => {
  ensureNodePackages();
  const { demoSettings, forgetDemo, startDemo } = await import('./demo.mjs');
  const settings = demoSettings();
  if (process.argv.includes('--fresh')) forgetDemo(settings);
  const started = performance.now();
  const demo = await startDemo(settings, console.log);
  const seconds = ((performance.now() - started) / 1000).toFixed(1);
  const sql = new URL(demo.databaseUrl);
  console.log(`
Wide Ledger is ready (${seconds} s).

  open      ${demo.url}
  user      admin
  password  ${process.env.WIDE_LEDGER_ADMIN_PASSWORD ? 'as set in WIDE_LEDGER_ADMIN_PASSWORD' : settings.password}
  SQL       psql "postgres://history_reader:${settings.readerPassword}@${sql.host}${sql.pathname}"

Ctrl+C stops everything. "npm start -- --fresh" starts over.`);
  let stopping = false;
  const end = async (code) => {
    if (stopping) return;
    stopping = true;
    console.log('\nStopping …');
    await demo.stop();
    process.exit(code);
  };
  for (const signal of ['SIGINT', 'SIGTERM']) process.on(signal, () => void end(0));
  for (const program of demo.programs) {
    void program.ended.then(() => {
      if (!stopping) console.error('One of the programs ended by itself; the lines above say why.');
      return end(1);
    });
  }
});
