/**
 * `node tools/test.mjs [vitest arguments]`: format and lint, types, build, then every test. The last line says
 * `N passed, N failed`; each of the checks before the tests counts as one.
 */
import { spawnSync } from 'node:child_process';
import { readFileSync, rmSync } from 'node:fs';

const env = { ...process.env, NEXT_TELEMETRY_DISABLED: '1', FORCE_COLOR: '0', ZAFIRO_BUILT: '1' };
delete env.ZAFIRO_DATA;
const run = (file, ...args) => spawnSync(file, args, { stdio: 'inherit', env }).status === 0;
const bin = (name) => `node_modules/.bin/${name}`;

let [passed, failed] = [0, 0];
const count = (ok) => {
  if (ok) passed++;
  else failed++;
};

count(run(bin('biome'), 'check', '--error-on-warnings', '.'));
// One build before the tests, so that no two of them build at once; it makes what types are checked with, too.
count(run('./zafiro', 'build'));
count(run(bin('next'), 'typegen') && run(bin('tsc'), '--noEmit'));

const report = 'dist/test-report.json';
rmSync(report, { force: true });
const ran = run(
  bin('vitest'),
  'run',
  '--reporter=default',
  '--reporter=json',
  `--outputFile.json=${report}`,
  ...process.argv.slice(2),
);
try {
  const { numPassedTests, numFailedTests, numTotalTestSuites, testResults } = JSON.parse(
    readFileSync(report, 'utf8'),
  );
  passed += numPassedTests;
  // A file that could not even be loaded has failed, although it counts no test.
  const broken = testResults.filter((f) => f.status === 'failed' && f.assertionResults.length === 0).length;
  failed += numFailedTests + broken;
  if (!ran && numFailedTests + broken === 0) failed++;
  if (numTotalTestSuites === 0) failed++;
} catch {
  failed++;
}
console.log(`\n${passed} passed, ${failed} failed`);
process.exitCode = failed ? 1 : 0;
