/**
 * `node tools/test.mjs [vitest arguments]`: format and lint, types, build, then every test. The last line says
 * `N passed, N failed`; each of the checks before the tests counts as one.
 *
 * `node tools/test.mjs --related [commit]`: of the tests without a browser those that reach what was changed since that commit, or
 * since the last one. Quick, for while one works; all of them run before anything is handed on.
 */
import { spawnSync } from 'node:child_process';
import { readFileSync, rmSync } from 'node:fs';

const env = { ...process.env, NEXT_TELEMETRY_DISABLED: '1', FORCE_COLOR: '0', ZAFIRO_BUILT: '1' };
delete env.ZAFIRO_DATA;
const run = (file, ...args) => spawnSync(file, args, { stdio: 'inherit', env }).status === 0;
const bin = (name) => `node_modules/.bin/${name}`;
const report = 'dist/test-report.json';

/** Files that were changed or added since a commit, and are still there. */
function changedSince(commit) {
  const ask = (...args) => {
    const { status, stdout, stderr } = spawnSync('git', args, { encoding: 'utf8' });
    if (status === 0) return stdout.split('\n').filter(Boolean);
    process.stderr.write(stderr);
    process.exit(2);
  };
  const changed = ask('diff', '--name-only', '--diff-filter=d', commit);
  return [...changed, ...ask('ls-files', '--others', '--exclude-standard')].filter((f) => /\.tsx?$/.test(f));
}

let [passed, failed] = [0, 0];
const count = (ok) => {
  if (ok) passed++;
  else failed++;
};

function countTests(ran) {
  try {
    const { numPassedTests, numFailedTests, numTotalTestSuites, testResults } = JSON.parse(
      readFileSync(report, 'utf8'),
    );
    passed += numPassedTests;
    // A file that could not even be loaded has failed, although it counts no test.
    const broken = testResults.filter((f) => f.status === 'failed' && f.assertionResults.length === 0).length;
    failed += numFailedTests + broken;
    if (!ran && numFailedTests + broken === 0) failed++;
    if (numTotalTestSuites === 0 && first !== '--related') failed++;
  } catch {
    failed++;
  }
}

const reported = ['--reporter=default', '--reporter=json', `--outputFile.json=${report}`];
const [first, ...others] = process.argv.slice(2);
rmSync(report, { force: true });
if (first === '--related') {
  const files = changedSince(others[0] ?? 'HEAD');
  count(run('./zafiro', '--version'));
  count(run(bin('biome'), 'check', '--error-on-warnings', '.'));
  count(run(bin('tsc'), '--noEmit'));
  const rooms = ['--project', 'unit', '--project', 'system', '--passWithNoTests'];
  if (files.length > 0) countTests(run(bin('vitest'), 'related', '--run', ...rooms, ...reported, ...files));
} else {
  count(run(bin('biome'), 'check', '--error-on-warnings', '.'));
  // One build before the tests, so that no two of them build at once; it makes what types are checked with, too.
  count(run('./zafiro', 'build'));
  count(run(bin('next'), 'typegen') && run(bin('tsc'), '--noEmit'));
  countTests(run(bin('vitest'), 'run', ...reported, ...process.argv.slice(2)));
}
console.log(`\n${passed} passed, ${failed} failed`);
process.exitCode = failed ? 1 : 0;
