import { spawnSync } from 'node:child_process';
import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import type { Box, Compression, PixelType, Samples } from '../../core/formats/exr/types';

/** Debian's OpenImageIO, through its Python face: an EXR reader and writer that is not ours. */
const script = new URL('./oiio.py', import.meta.url).pathname;

function python(...args: string[]) {
  const done = spawnSync('/usr/bin/python3', [script, ...args], { encoding: 'utf8' });
  if (done.status !== 0) throw new Error(`OpenImageIO: ${done.stderr}`);
}

export function inFolder<T>(work: (folder: string) => T): T {
  const folder = mkdtempSync(join(tmpdir(), 'zafiro-exr-'));
  try {
    return work(folder);
  } finally {
    rmSync(folder, { recursive: true, force: true });
  }
}

const arrays = { half: Uint16Array, float: Float32Array, uint: Uint32Array } as const;

export type Dump = {
  width: number;
  height: number;
  x: number;
  y: number;
  full: [number, number, number, number];
  types: Record<string, PixelType>;
  attributes: Record<string, unknown>;
  samples: Map<string, Samples>;
};

/** What OpenImageIO reads from a file, bit for bit. */
export const dump = (path: string): Dump =>
  inFolder((folder) => {
    python('dump', path, folder);
    const spec = JSON.parse(readFileSync(join(folder, 'spec.json'), 'utf8'));
    const samples = new Map<string, Samples>();
    const types: Record<string, PixelType> = {};
    spec.channels.forEach((name: string, i: number) => {
      const bytes = readFileSync(join(folder, `${i}.bin`));
      const kind = spec.types[i] as PixelType;
      types[name] = kind;
      samples.set(
        name,
        new arrays[kind](bytes.buffer.slice(bytes.byteOffset, bytes.byteOffset + bytes.length)),
      );
    });
    return { ...spec, types, samples };
  });

export type Made = {
  channels: { name: string; type: PixelType; samples: Samples }[];
  dataWindow: Box;
  displayWindow: Box;
  compression: Compression;
};

/** An EXR file that OpenImageIO writes. */
export const make = (m: Made, path: string) =>
  inFolder((folder) => {
    const { dataWindow: d, displayWindow: f } = m;
    const channels = m.channels.map(({ name, type, samples }, i) => {
      const file = join(folder, `${i}.bin`);
      writeFileSync(file, new Uint8Array(samples.buffer, samples.byteOffset, samples.byteLength));
      return { name, type, file };
    });
    const spec = {
      width: d.xMax - d.xMin + 1,
      height: d.yMax - d.yMin + 1,
      x: d.xMin,
      y: d.yMin,
      full: [f.xMin, f.yMin, f.xMax - f.xMin + 1, f.yMax - f.yMin + 1],
      compression: m.compression,
      channels,
    };
    const given = join(folder, 'spec.json');
    writeFileSync(given, JSON.stringify(spec));
    python('make', given, path);
  });
