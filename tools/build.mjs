/**
 * Builds what runs: `node tools/build.mjs programs` bundles the programs beside Next into dist/ (under a second),
 * `next` the Next application; without an argument both.
 */
import { spawnSync } from 'node:child_process';
import { build } from 'esbuild';

const what = process.argv[2];
if (what !== 'next')
  await build({
    entryPoints: {
      cli: 'cli/main.ts',
      serve: 'server/launch/serve.ts',
      exports: 'server/exports/process.ts',
      'render-thread': 'engine/node/render-thread.ts',
      'orrery-hall': 'demo/orrery-hall/main.ts',
      'orrery-hall-worker': 'demo/orrery-hall/worker.ts',
    },
    outdir: 'dist',
    outExtension: { '.js': '.mjs' },
    bundle: true,
    platform: 'node',
    format: 'esm',
    target: 'node20',
    packages: 'external',
    sourcemap: true,
    logLevel: 'warning',
  });

if (what !== 'programs') {
  const env = { ...process.env, NEXT_TELEMETRY_DISABLED: '1' };
  const { status } = spawnSync(process.execPath, ['node_modules/next/dist/bin/next', 'build'], {
    stdio: 'inherit',
    env,
  });
  process.exit(status ?? 1);
}
