/**
 * Builds what runs: `node tools/build.mjs programs` bundles the programs beside Next into dist/ (under a second);
 * without an argument also the Next application.
 */
import { spawnSync } from 'node:child_process';
import { build } from 'esbuild';

await build({
  entryPoints: {
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

if (process.argv[2] !== 'programs') {
  const env = { ...process.env, NEXT_TELEMETRY_DISABLED: '1' };
  const { status } = spawnSync(process.execPath, ['node_modules/next/dist/bin/next', 'build'], { stdio: 'inherit', env });
  process.exit(status ?? 1);
}
