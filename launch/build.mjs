/** One bundle per process, and the interface; made again only when a source is newer. */
import { existsSync, readdirSync, statSync } from 'node:fs';
import { join } from 'node:path';
import { ROOT } from './ground.mjs';

const BUNDLES = [
  ['server/src/main.ts', 'server/dist/main.mjs'],
  ['server/src/archive/reading/thread.ts', 'server/dist/reading.mjs'],
  ['server/src/archive/reading/threadLoader.ts', 'server/dist/readingLoader.cjs'],
  ['server/src/archive/ledger/postingMain.ts', 'server/dist/posting.mjs'],
  ['server/src/archive/deriving/derivingMain.ts', 'server/dist/deriving.mjs'],
  ['collector/src/main.ts', 'collector/dist/main.mjs'],
  ['collector/src/kinds/expressions/expressionProcess.ts', 'collector/dist/expressions.mjs'],
  ['bench/src/main.ts', 'bench/dist/main.mjs'],
  ['bench/src/pastMain.ts', 'bench/dist/pastMain.mjs'],
  ['bench/src/neighboursMain.ts', 'bench/dist/neighboursMain.mjs'],
];

function newest(folder) {
  let latest = 0;
  for (const entry of readdirSync(folder, { withFileTypes: true })) {
    if (entry.name === 'dist' || entry.name === 'node_modules' || entry.name === 'test') continue;
    const path = join(folder, entry.name);
    latest = Math.max(latest, entry.isDirectory() ? newest(path) : statSync(path).mtimeMs);
  }
  return latest;
}

const madeAt = (path) => (existsSync(path) ? statSync(path).mtimeMs : -1);

export async function buildPrograms() {
  const changed = Math.max(
    ...['core', 'contract', 'vault', 'server', 'collector', 'bench'].map((folder) => newest(join(ROOT, folder))),
  );
  if (BUNDLES.every(([, to]) => madeAt(join(ROOT, to)) > changed)) return;
  const { build } = await import('esbuild');
  await Promise.all(
    BUNDLES.map(([from, to]) =>
      build({
        entryPoints: [join(ROOT, from)],
        outfile: join(ROOT, to),
        bundle: true,
        platform: 'node',
        target: 'node20',
        format: to.endsWith('.cjs') ? 'cjs' : 'esm',
        sourcemap: true,
        logLevel: 'warning',
        // Our own packages go into the bundle, everybody else's stay where npm put them. Importing does nothing by itself,
        // ours or theirs: a thread that needs two of them does not load them all.
        plugins: [
          {
            name: 'others-stay-outside',
            setup: ({ onResolve }) => {
              onResolve({ filter: /^[^./]/ }, ({ path }) =>
                path.startsWith('@wide-ledger/') ? null : { path, external: true, sideEffects: false },
              );
            },
          },
        ],
      }),
    ),
  );
}

export async function buildInterface() {
  const changed = Math.max(...['core', 'contract', 'web'].map((folder) => newest(join(ROOT, folder))));
  if (madeAt(join(ROOT, 'web/dist/index.html')) > changed) return;
  const { build } = await import('vite');
  await build({ root: join(ROOT, 'web'), logLevel: 'warn' });
}
