import { spawnSync } from 'node:child_process';
import { mkdtempSync, readdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { FileError } from '../../core/formats/file-error';
import { openFile } from '../../engine/node/files/open';

/**
 * A seeded fuzzer of all readers: `fuzz.mjs VARIANTS [SEED]`. It takes sound files of every sort, changes each by flipped bytes, cuts,
 * doubled and deleted pieces and large numbers in odd places, and reads what comes out. A reader may refuse with a `FileError`
 * or read something; it may not throw anything else, take over 2 s, or more than 512 MB beyond where it began.
 * Prints one JSON line; its exit status is 1 if anything was wrong.
 */
const variants = Number(process.argv[2] ?? 10_000);
const seed = Number(process.argv[3] ?? 1);
const reference = process.argv[4] ?? 'tests/reference';
/** Where the slowest variant is kept to be looked at, if anywhere. */
const keep = process.env.ZAFIRO_FUZZ_KEEP;
const longest = 2000;
const mostExtra = 512;

let state = seed * 2654435761;
const random = (below: number): number => {
  state = Math.imul(state ^ (state >>> 15), 0x2c1b3c6d) + 0x9e3779b9;
  state ^= state >>> 13;
  return (state >>> 0) % below;
};

const folder = mkdtempSync(join(tmpdir(), 'zafiro-fuzz-'));
for (const script of ['exr-corpus.py', 'raster-corpus.py']) {
  const made = spawnSync('/usr/bin/python3', [join(reference, script), folder], { encoding: 'utf8' });
  if (made.status !== 0) throw new Error(made.stderr);
}
const pictures = (at: string) =>
  readdirSync(at)
    .filter((f) => /\.(exr|png|tif|jpg|hdr)$/.test(f))
    .map((f) => ({ name: f, bytes: readFileSync(join(at, f)) }));
const sound = [...pictures(folder), ...pictures(join(reference, 'subsampled'))].filter(
  (f) => f.bytes.length < 200_000,
);
rmSync(folder, { recursive: true });

const largeNumbers = [0, 1, 0x7f, 0xff, 0x7fff, 0xffff, 0x7fffffff, 0x80000000, 0xffffffff, 0x10000000];

function changed(bytes: Uint8Array): Uint8Array {
  let out = Uint8Array.from(bytes);
  for (let k = 1 + random(4); k > 0; k--) {
    // Headers decide most, so most changes fall there.
    const reach = random(3) === 0 ? out.length : Math.min(out.length, 600);
    const at = random(Math.max(1, reach));
    switch (random(6)) {
      case 0:
      case 1:
        out[at] ^= 1 << random(8);
        break;
      case 2:
        out[at] = random(256);
        break;
      case 3:
        if (at + 4 <= out.length)
          new DataView(out.buffer).setUint32(at, largeNumbers[random(largeNumbers.length)], random(2) === 0);
        break;
      case 4:
        out = out.slice(0, random(out.length) + 1);
        break;
      case 5: {
        const end = Math.min(out.length, at + 1 + random(64));
        const piece = out.subarray(at, end);
        out = Uint8Array.from(
          random(2)
            ? [...out.subarray(0, at), ...out.subarray(end)]
            : [...out.subarray(0, end), ...piece, ...out.subarray(end)],
        );
        break;
      }
    }
  }
  return out;
}

const megabytes = () => process.memoryUsage().rss / 2 ** 20;

async function main() {
  let [read, partial, refused, slowest, most] = [0, 0, 0, 0, 0];
  const wrong: string[] = [];
  let slowestName = '';
  const before = megabytes();
  for (let i = 0; i < variants; i++) {
    const from = sound[random(sound.length)];
    const bytes = changed(from.bytes);
    const began = performance.now();
    try {
      const file = await openFile(bytes);
      for (const [p, part] of file.info.parts.entries()) {
        const { lacking } = await file.read(
          p,
          part.channels.map((c) => c.name),
        );
        if (lacking) partial++;
        else read++;
      }
    } catch (error) {
      if (error instanceof FileError) refused++;
      else wrong.push(`${from.name}, variant ${i}: ${(error as Error).stack?.slice(0, 400)}`);
    }
    const took = performance.now() - began;
    if (took > slowest) {
      [slowest, slowestName] = [took, from.name];
      if (keep) writeFileSync(keep, bytes);
    }
    if (took > longest) wrong.push(`${from.name}, variant ${i}: took ${Math.round(took)} ms`);
    if (i % 50 === 0) most = Math.max(most, megabytes() - before);
  }
  if (most > mostExtra) wrong.push(`memory grew by ${Math.round(most)} MB`);
  const report = {
    variants,
    seed,
    files: sound.length,
    read,
    partial,
    refused,
    slowest: Math.round(slowest),
    slowestName,
    megabytes: Math.round(most),
    wrong: wrong.slice(0, 10),
  };
  process.stdout.write(`${JSON.stringify(report)}\n`);
  process.exitCode = wrong.length > 0 ? 1 : 0;
}

await main();
