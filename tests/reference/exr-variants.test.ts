import { spawnSync } from 'node:child_process';
import { mkdtempSync, readdirSync, readFileSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, describe, expect, test } from 'vitest';
import { readParts } from '../../core/formats/exr/header';
import { readPart, samplesIn } from '../../core/formats/exr/read';
import type { Part, PixelType, Samples } from '../../core/formats/exr/types';
import { halvesToFloats } from '../../core/formats/half';
import { nodeZlib } from '../../engine/node/zlib';

/**
 * Files of every sort that OpenEXR knows, written and read by independent programs (OpenImageIO and OpenEXR, from
 * Debian): every sample must agree bit for bit, but for DWA, whose transforms each library rounds in its own way.
 */
const folder = mkdtempSync(join(tmpdir(), 'zafiro-corpus-'));
const made = spawnSync('/usr/bin/python3', [new URL('./exr-corpus.py', import.meta.url).pathname, folder], {
  encoding: 'utf8',
});
if (made.status !== 0) throw new Error(`The corpus could not be made: ${made.stderr}`);
afterAll(() => rmSync(folder, { recursive: true, force: true }));

const names: string[] = JSON.parse(readFileSync(join(folder, 'names.json'), 'utf8'));
const sizeOf = { half: 2, float: 4, uint: 4 } as const;
const bytesOf = (s: Samples) => Buffer.from(s.buffer, s.byteOffset, s.byteLength);

/** Bit for bit, or as near as transforms come. */
function expectAlike(part: Part, type: PixelType, name: string, ours: Samples, theirs: Buffer) {
  const isTransformed = part.compression.startsWith('dwa') && /(^|\.)(R|G|B|Y|RY|BY)$/.test(name);
  if (!isTransformed) {
    expect(bytesOf(ours).equals(theirs), `channel ${name}`).toBe(true);
    return;
  }
  const copy = theirs.buffer.slice(theirs.byteOffset, theirs.byteOffset + theirs.length) as ArrayBuffer;
  const floats = (s: Samples) => (type === 'half' ? halvesToFloats(s as Uint16Array) : (s as Float32Array));
  const [a, b] = [floats(ours), floats(samplesIn(type, copy))];
  // Two roundings to half apart, before the curve back to light, whose slope makes up to 2.2 · 2^-8 of them.
  for (const [i, v] of a.entries())
    expect(Math.abs(v - b[i])).toBeLessThanOrEqual(0.009 * Math.abs(b[i]) + 2e-4);
}

describe('files of other programs', () => {
  test.each(names)('%s', (name) => {
    const bytes = readFileSync(join(folder, `${name}.exr`));
    const truth = JSON.parse(readFileSync(join(folder, `${name}.json`), 'utf8'));
    const parts = readParts(bytes);
    expect(parts).toHaveLength(truth.length);
    for (const [p, part] of parts.entries()) {
      const { xMin, yMin, xMax, yMax } = part.dataWindow;
      expect([xMin, yMin, xMax, yMax]).toEqual(truth[p].window);
      const { samples, missing } = readPart(bytes, part, nodeZlib);
      expect(missing).toBeUndefined();
      // Nothing may hang on what memory held before.
      const again = readPart(bytes, part, nodeZlib).samples;
      for (const [channel, s] of samples) expect(bytesOf(again.get(channel)!).equals(bytesOf(s))).toBe(true);
      expect([...samples.keys()].sort()).toEqual([...truth[p].channels].sort());
      truth[p].channels.forEach((channel: string, i: number) => {
        const theirs = readFileSync(join(folder, `${name}.${p}.${i}.bin`));
        expectAlike(part, truth[p].types[i], channel, samples.get(channel)!, theirs);
      });
    }
  });

  test('only the rows asked for are unpacked', () => {
    const bytes = readFileSync(join(folder, 'window-zip.exr'));
    const [part] = readParts(bytes);
    const whole = readPart(bytes, part, nodeZlib, ['R']).samples.get('R')!;
    const some = readPart(bytes, part, nodeZlib, ['R'], [30, 40]).samples.get('R')!;
    const row = (y: number, s: Samples) => Array.from(s.subarray((y + 7) * 37, (y + 8) * 37));
    for (const y of [30, 35, 40]) expect(row(y, some)).toEqual(row(y, whole));
    expect(row(-7, some).every((v) => v === 0)).toBe(true);
    expect(row(290, some).every((v) => v === 0)).toBe(true);
  });
});

describe('subsampled channels, written by the OpenEXR library (make.cpp beside them)', () => {
  const beside = new URL('./subsampled/', import.meta.url).pathname;
  const files = readdirSync(beside).filter((f) => f.endsWith('.exr'));
  test.each(files)('%s', (file) => {
    const bytes = readFileSync(join(beside, file));
    const truth = readFileSync(join(beside, file.replace('.exr', '.bin')));
    const [part] = readParts(bytes);
    const { samples, missing } = readPart(bytes, part, nodeZlib);
    expect(missing).toBeUndefined();
    let at = 0;
    for (const c of part.channels) {
      const ours = samples.get(c.name)!;
      const length = ours.length * sizeOf[c.type];
      expectAlike(part, c.type, c.name, ours, truth.subarray(at, at + length));
      at += length;
    }
    expect(at).toBe(truth.length);
  });
  test('there are files of all sorts', () => expect(files.length).toBe(7));
});
