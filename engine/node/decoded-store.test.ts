import { spawn } from 'node:child_process';
import {
  existsSync,
  linkSync,
  mkdirSync,
  mkdtempSync,
  readdirSync,
  readFileSync,
  rmSync,
  statSync,
  utimesSync,
  writeFileSync,
} from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { build } from 'esbuild';
import fc from 'fast-check';
import { afterEach, beforeEach, describe, expect, test } from 'vitest';
import type { PassInfo } from '../../core/formats/pass-wire';
import { type Decoded, decodedKey, decodedStore } from './decoded-store';

let folder: string;
beforeEach(() => {
  folder = mkdtempSync(join(tmpdir(), 'zafiro-decoded-'));
});
afterEach(() => rmSync(folder, { recursive: true, force: true }));

const info: PassInfo = { type: 'draft', width: 4, height: 3 };
const some = (seed: number, size = 1000): Decoded => ({
  info,
  bytes: Uint8Array.from({ length: size }, (_, i) => (i * seed + seed) & 255),
});
const keyOf = (n: number) => `${n.toString(16).padStart(4, '0')}aaaa`;
const place = { folder: '', bytes: 2 ** 20 };
const store = (bytes = place.bytes, free?: number) =>
  decodedStore({ folder, bytes }, free === undefined ? undefined : async () => free);
const files = () =>
  readdirSync(folder).flatMap((d) => readdirSync(join(folder, d)).map((f) => join(folder, d, f)));
const held = () => files().reduce((sum, f) => sum + statSync(f).size, 0);

describe('decoded passes on disk', () => {
  test('come back as they were', async () => {
    const one = store();
    await one.put(keyOf(1), some(7));
    expect(await store().get(keyOf(1))).toMatchObject({ info, bytes: Buffer.from(some(7).bytes) });
    expect(await one.get(keyOf(2))).toBeUndefined();
  });

  test('whatever is torn or changed in a file is noticed, and the file is made again', async () => {
    const one = store();
    await one.put(keyOf(1), some(7, 300));
    const [path] = files();
    const whole = readFileSync(path);
    await fc.assert(
      fc.asyncProperty(fc.nat(whole.length - 1), fc.boolean(), async (at, cuts) => {
        const torn = Buffer.from(cuts ? whole.subarray(0, at) : whole);
        if (!cuts) torn[at] ^= 1 + (at % 255);
        writeFileSync(path, torn);
        expect(await one.get(keyOf(1))).toBeUndefined();
        expect(existsSync(path)).toBe(false);
        await one.put(keyOf(1), some(7, 300));
        expect(readFileSync(path)).toEqual(whole);
      }),
      { numRuns: 200 },
    );
  });

  test('stay within their bound, the least recently used out first', async () => {
    const one = store(100_000);
    for (let n = 0; n < 300; n++) {
      await one.put(keyOf(n), some(n));
      // The clock of a file system is coarse.
      const [seconds] = [1_700_000_000 + n];
      utimesSync(join(folder, keyOf(n).slice(0, 2), keyOf(n)), seconds, seconds);
      // One that is used again and again stays.
      await one.get(keyOf(3));
    }
    expect(held()).toBeLessThanOrEqual(100_000);
    expect(held()).toBeGreaterThan(50_000);
    expect(await one.get(keyOf(3))).toBeDefined();
    expect(await one.get(keyOf(299))).toBeDefined();
    expect(await one.get(keyOf(1))).toBeUndefined();
  });

  test('several writers together stay within the bound', async () => {
    const all = Array.from({ length: 6 }, () => store(200_000));
    for (let n = 0; n < 300; n++) await Promise.all(all.map((s, i) => s.put(keyOf(n * 6 + i), some(n))));
    expect(held()).toBeLessThanOrEqual(200_000);
  });

  test('never take more than half of what is free', async () => {
    const one = store(2 ** 20, 50_000);
    for (let n = 0; n < 400; n++) await one.put(keyOf(n), some(n));
    expect(held()).toBeLessThanOrEqual(50_000 + 2 ** 20 / 32 + 2000);
    const none = decodedStore({ folder, bytes: 0 });
    await none.put('ff00', some(1));
    expect(await none.get('ff00')).toBeUndefined();
  });

  test('may be deleted at any time', async () => {
    const one = store();
    await one.put(keyOf(1), some(1));
    rmSync(folder, { recursive: true });
    expect(await one.get(keyOf(1))).toBeUndefined();
    await one.put(keyOf(1), some(1));
    expect(await one.get(keyOf(1))).toBeDefined();
    // Where no folder can be, nothing is kept, and nothing fails.
    rmSync(folder, { recursive: true });
    writeFileSync(folder, 'a file');
    await one.put(keyOf(2), some(2));
    expect(await one.get(keyOf(2))).toBeUndefined();
  });

  test('are named by the file as it is now, by pass, size and how it is read', async () => {
    const path = join(folder, 'a.exr');
    writeFileSync(path, 'abc');
    const key = await decodedKey(path, 'depth', 1);
    linkSync(path, join(folder, 'b.exr'));
    expect(await decodedKey(join(folder, 'b.exr'), 'depth', 1)).toBe(key);
    const others = [
      await decodedKey(path, 'normal', 1),
      await decodedKey(path, 'depth', 0.5),
      await decodedKey(path, 'depth', 1, { encoding: 'srgb' }),
      await decodedKey(path, 'depth', 1, { kinds: { depth: 'position' } }),
    ];
    writeFileSync(path, 'abd');
    utimesSync(path, 1, 2);
    expect(new Set([key, ...others, await decodedKey(path, 'depth', 1)]).size).toBe(6);
    await expect(decodedKey(join(folder, 'none'), 'depth', 1)).rejects.toThrow();
  });

  test('kill -9 in the midst of writing leaves whole files, or none under their names', async () => {
    const program = join(folder, 'writer.mjs');
    const kept = join(folder, 'kept');
    mkdirSync(kept);
    await build({
      stdin: {
        contents: `import { decodedStore } from './decoded-store';
          const one = decodedStore({ folder: ${JSON.stringify(kept)}, bytes: 2 ** 30 });
          const info = ${JSON.stringify(info)};
          for (let n = 0; ; n = (n + 1) % 40) {
            const key = n.toString(16).padStart(4, '0') + 'aaaa';
            await one.put(key, { info, bytes: new Uint8Array(3e6).fill(n + 1) });
            if (n === 0) process.stdout.write('.');
          }`,
        resolveDir: import.meta.dirname,
      },
      bundle: true,
      platform: 'node',
      format: 'esm',
      outfile: program,
    });
    for (let round = 0; round < 6; round++) {
      const child = spawn(process.execPath, [program], { stdio: ['ignore', 'pipe', 'inherit'] });
      await new Promise((done) => child.stdout.once('data', done));
      await new Promise((done) => setTimeout(done, 7 * round + 3));
      child.kill('SIGKILL');
      await new Promise((done) => child.once('exit', done));
      const after = decodedStore({ folder: kept, bytes: 2 ** 30 });
      let there = 0;
      for (let n = 0; n < 40; n++) {
        const found = await after.get(keyOf(n));
        if (!found) continue;
        there++;
        expect(found.bytes.length).toBe(3e6);
        expect(found.bytes.every((b) => b === n + 1)).toBe(true);
      }
      expect(there).toBeGreaterThan(0);
    }
  });
});
