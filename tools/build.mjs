/**
 * Builds what runs: `node tools/build.mjs kernels` the kernels' module and the outlines of letters, `programs` that and the programs beside Next into dist/,
 * `next` the Next application; without an argument all.
 */
import { spawnSync } from 'node:child_process';
import { copyFileSync, mkdirSync } from 'node:fs';
import { build } from 'esbuild';
import { writeKernelBindings } from './kernel-bindings.mjs';
import { writeType } from './type.mjs';

const what = process.argv[2];
const run = (...args) => {
  const env = { ...process.env, NEXT_TELEMETRY_DISABLED: '1' };
  const { status } = spawnSync(process.execPath, args, { stdio: 'inherit', env });
  if (status !== 0) process.exit(status ?? 1);
};

/** One module, without relaxed SIMD or fused multiplication, so that every host gives the same bits. */
function buildKernels() {
  mkdirSync('dist', { recursive: true });
  mkdirSync('public', { recursive: true });
  run(
    'node_modules/assemblyscript/bin/asc.js',
    'core/kernels/assembly/index.ts',
    ...'--outFile dist/kernels.wasm --bindings raw --runtime stub -O3 --noAssert --enable simd,bulk-memory,nontrapping-f2i,threads'.split(
      ' ',
    ),
    ...'--importMemory --sharedMemory --initialMemory 16 --maximumMemory 65536 --memoryBase 1024 --use abort='.split(
      ' ',
    ),
  );
  writeKernelBindings('dist/kernels.d.ts');
  copyFileSync('dist/kernels.wasm', 'public/kernels.wasm');
}

async function buildPrograms() {
  await build({
    entryPoints: {
      bench: 'bench/main.ts',
      'bench-jobs': 'bench/jobs.ts',
      'scale-node': 'bench/scale-node.ts',
      cli: 'cli/main.ts',
      fuzz: 'tests/load/fuzz.ts',
      serve: 'server/programs/serve.ts',
      peer: 'server/programs/peer.ts',
      keep: 'server/programs/keep.ts',
      exports: 'server/programs/exports.ts',
      reader: 'server/programs/reader.ts',
      'exr-thread': 'engine/node/exr-thread.ts',
      'render-process': 'engine/node/render-process.ts',
      'render-pool': 'engine/node/pool.ts',
      'pool-worker': 'engine/node/pool-worker.ts',
      'moth-and-comet': 'demo/moth-and-comet/main.ts',
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
}

if (what !== 'next') {
  buildKernels();
  writeType();
}
if (what === undefined || what === 'programs') await buildPrograms();
if (what === undefined || what === 'next') run('node_modules/next/dist/bin/next', 'build');
