import { spawnSync } from 'node:child_process';
import { expect, test } from 'vitest';
import { root } from '../server/instance';

/**
 * Ten thousand changed files, documents and texts, in a process of its own so that its memory can be measured: no crash, no hang, no
 * more than 512 MB (see the fuzzer for what it does).
 */
test('nothing that comes from outside crashes, hangs or fills who reads it', () => {
  const done = spawnSync(process.execPath, ['--enable-source-maps', 'dist/fuzz.mjs', '10000', '20'], {
    cwd: root,
    encoding: 'utf8',
  });
  const report = JSON.parse(done.stdout);
  expect(report.wrong).toEqual([]);
  expect(report).toMatchObject({ variants: 10_000 });
  expect(report.files).toBeGreaterThan(80);
  // Sound and broken files must both be among them, or nothing was tried.
  expect(report.read).toBeGreaterThan(500);
  expect(report.refused).toBeGreaterThan(500);
  expect(report.partial).toBeGreaterThan(500);
  for (const kind of [
    'exr, by structure',
    'png, by structure',
    'tif, by structure',
    'document',
    'pattern',
    'svg',
    'tracks',
    'recipe',
    'table',
    'cube',
    'cdl',
    'body',
  ])
    expect(report.kinds[kind]).toBeGreaterThan(200);
  expect(done.status).toBe(0);
});
